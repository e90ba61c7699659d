import { Select } from 'antd'
import { useState } from 'react'
import type { ChunkOut, MeasureOut, PositionOut, TakeOut } from '../../api/gen'
import { moment } from '../../shared/pure/time'
import { TakePlayer } from './TakePlayer'
import { t } from '../../words/words'

interface Props {
  takes: TakeOut[]
  chosen: TakeOut
  choose: (id: string) => void
  chunk: ChunkOut
  measures: MeasureOut[]
  secondsPerQuarter: number
  pointed: PositionOut | null
}

/** The takes of one student on a chunk: one to judge, and an earlier one beside it. */
export function Taken({ takes, chosen, choose, chunk, measures, secondsPerQuarter, pointed }: Props) {
  const [besideId, setBeside] = useState<string | null>(null)
  const beside = takes.find((one) => one.id === besideId && one !== chosen)
  const player = { chunk, measures, secondsPerQuarter, pointed }
  return (
    <div className="taken">
      {takes.length > 1 && (
        <div className="inline">
          <Select
            aria-label={t('hearing.take')}
            value={chosen.id}
            onChange={choose}
            options={takes.map(nameOf)}
            style={{ minWidth: 200 }}
          />
          <Select
            aria-label={t('hearing.besideIt')}
            allowClear
            placeholder={t('hearing.besideIt2')}
            value={beside?.id ?? null}
            onChange={(id: string | null) => setBeside(id)}
            options={takes.filter((one) => one !== chosen).map(nameOf)}
            style={{ minWidth: 200 }}
          />
        </div>
      )}
      <div className={beside ? 'side-by-side' : ''}>
        <TakePlayer
          key={chosen.id}
          take={chosen}
          name={beside ? t('hearing.thisTake') : t('hearing.take')}
          hasKeys
          {...player}
        />
        {beside && (
          <TakePlayer key={beside.id} take={beside} name={t('hearing.besideIt')} hasKeys={false} {...player} />
        )}
      </div>
    </div>
  )
}

function nameOf(take: TakeOut) {
  return { value: take.id, label: `${moment(take.recorded_at)}${take.is_heard ? t('hearing.heardTail') : ''}` }
}
