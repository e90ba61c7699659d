import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { getReference } from '../../api/gen'
import { keys } from '../../api/keys'
import { toNumber } from '../pure/fraction'
import { notesOf } from '../pure/playing'
import { bpm } from '../pure/time'
import { usePlayer } from '../../sound/usePlayer'
import { t } from '../../words/words'

const SHARES = [60, 80, 100]

interface Props {
  partId: string
  /** Beats a minute, where they are known before it is fetched. */
  goal?: number
}

/** The whole part to listen to, repeats played out, at shares of the goal; the others beside it. */
export function Reference({ partId, goal }: Props) {
  const [hasOwn, setOwn] = useState(true)
  const [hasOthers, setOthers] = useState(false)
  const reference = useQuery({
    queryKey: keys.part.reference(partId, hasOthers),
    queryFn: () => ask(getReference({ path: { part_id: partId }, query: { with_others: hasOthers } })),
    staleTime: Infinity,
    enabled: false,
  })
  const player = usePlayer(null)
  const isAlone = reference.data !== undefined && hasOthers && reference.data.others.length === 0
  async function listen(share: number) {
    const data = reference.data ?? (await reference.refetch()).data
    if (!data) return
    const beside = data.others.flatMap((other) => notesOf(other.sounds, other.family))
    player.start({
      notes: [...(hasOwn ? notesOf(data.sounds, data.family) : []), ...beside].sort((a, b) => a.at - b.at),
      quarters: toNumber(data.quarters),
      beat: toNumber(data.beat),
      click: toNumber(data.beat),
      clickAt: 0,
      clicks: [],
      tempo: (data.goal_bpm * share) / 100,
      countIn: [],
      isLoop: false,
      // Without one's own line one plays it: the click says where the others are.
      hasClick: !hasOwn,
      hasSound: true,
      family: data.family,
    })
  }
  return (
    <section className="reference" aria-label={t('shared.referenceSoundOfTheWholePart')}>
      <strong>{t('shared.theWholePartToListenTo')}</strong>{' '}
      {SHARES.map((share) => (
        <Button key={share} size="small" loading={reference.isFetching} onClick={() => void listen(share)}>
          {share} %{goal !== undefined && ` (${bpm(Math.round((goal * share) / 100))})`}
        </Button>
      ))}
      {player.isRunning && (
        <Button size="small" onClick={player.stop}>
          {t('shared.stop')}
        </Button>
      )}
      <label>
        <input type="checkbox" checked={hasOwn} onChange={(event) => setOwn(event.target.checked)} />{' '}
        {t('shared.thisLine')}
      </label>
      <label>
        <input type="checkbox" checked={hasOthers} onChange={(event) => setOthers(event.target.checked)} />{' '}
        {t('shared.theOtherParts')}
      </label>
      {isAlone && <span className="muted">{t('shared.thisPieceHasNoOtherPart')}</span>}
      {reference.isError && <span role="alert"> {said(reference.error)}</span>}
    </section>
  )
}
