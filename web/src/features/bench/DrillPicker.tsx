import { Input, Segmented } from 'antd'
import { useState } from 'react'
import type { DrillOut, RankedOut, RankingOut } from '../../api/gen'
import { Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'

interface Ranking {
  data: RankingOut | undefined
  isPending: boolean
  isError: boolean
  isPlaceholderData: boolean
  error: unknown
  refetch: () => unknown
}

interface Props {
  drills: DrillOut[]
  ranking: Ranking
  chosen: string
  choose: (name: string) => void
}

const FIRST = 8

/** What fits the chunk best today and why; all the rest by family. */
export function DrillPicker({ drills, ranking, chosen, choose }: Props) {
  const [list, setList] = useState<'best' | 'all'>('best')
  const [wanted, setWanted] = useState('')
  const ranked = ranking.data?.drills ?? []
  const titles = new Map(drills.map((d) => [d.name, d]))
  const matches = (name: string) => {
    const kind = titles.get(name)
    const text = `${kind?.title ?? ''} ${kind?.family ?? ''} ${kind?.use_when ?? ''}`.toLowerCase()
    return text.includes(wanted.trim().toLowerCase())
  }
  const isSearching = wanted.trim() !== ''
  const found = ranked.filter((one) => matches(one.drill))
  const best = found.filter((one) => one.refused === '').slice(0, isSearching ? 99 : FIRST)
  return (
    <>
      <h2 id="drills-title">{t('bench.drills')}</h2>
      <Input
        allowClear
        aria-label={t('bench.findADrill')}
        placeholder={t('bench.findShiftRestTempo')}
        value={wanted}
        onChange={(event) => setWanted(event.target.value)}
      />
      <Segmented
        block
        aria-label={t('bench.drillsToShow')}
        options={[
          { value: 'best', label: t('bench.fitsBestToday') },
          { value: 'all', label: t('bench.all') },
        ]}
        value={list}
        onChange={setList}
      />
      {ranking.isPending && <Loading what={t('bench.rankingTheDrills')} />}
      {ranking.isError && <Failed error={ranking.error} retry={() => void ranking.refetch()} />}
      {list === 'best' ? (
        <ul className={ranking.isPlaceholderData ? 'drill-list stale' : 'drill-list'} aria-labelledby="drills-title">
          {best.map((one, i) => (
            <Line
              key={one.drill}
              one={one}
              kind={titles.get(one.drill)}
              nth={isSearching ? 99 : i}
              isChosen={one.drill === chosen}
              choose={choose}
            />
          ))}
          {best.length === 0 && ranked.length > 0 && (
            <li className="muted nothing">{t('bench.noDrillThatFitsHasThis')}</li>
          )}
        </ul>
      ) : (
        <ByFamily drills={drills} found={found} chosen={chosen} choose={choose} />
      )}
    </>
  )
}

interface LineProps {
  one: RankedOut
  kind: DrillOut | undefined
  nth: number
  isChosen: boolean
  choose: (name: string) => void
}

function Line({ one, kind, nth, isChosen, choose }: LineProps) {
  if (!kind) return null
  const why = one.reasons.length > 0 ? one.reasons.join(' ') : kind.use_when
  return (
    <li>
      <button
        type="button"
        aria-pressed={isChosen}
        className={one.rests ? 'rests' : ''}
        onClick={() => choose(one.drill)}
      >
        <span>
          {kind.title} {nth < 9 && <kbd>{nth + 1}</kbd>}
        </span>
        <small>{one.refused || why}</small>
        {one.warnings.map((warning) => (
          <small key={warning} className="warning">
            {warning}
          </small>
        ))}
      </button>
    </li>
  )
}

function ByFamily({
  drills,
  found,
  chosen,
  choose,
}: {
  drills: DrillOut[]
  found: RankedOut[]
  chosen: string
  choose: (name: string) => void
}) {
  const families = [...new Set(drills.map((d) => d.family))]
  const titles = new Map(drills.map((d) => [d.name, d]))
  return (
    <>
      {families.map((family) => {
        const inside = found.filter((one) => titles.get(one.drill)?.family === family)
        if (inside.length === 0) return null
        return (
          <section key={family} aria-label={family}>
            <h3 className="family">{family}</h3>
            <ul className="drill-list">
              {inside.map((one) => (
                <Line
                  key={one.drill}
                  one={one}
                  kind={titles.get(one.drill)}
                  nth={99}
                  isChosen={one.drill === chosen}
                  choose={choose}
                />
              ))}
            </ul>
          </section>
        )
      })}
    </>
  )
}
