import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { ask, said } from '../../api/ask'
import { getReference, type PartDetail } from '../../api/gen'
import { toNumber } from '../../shared/lib/fraction'
import { partKeys } from '../../shared/lib/part.queries'
import { bpm } from '../../shared/lib/time'
import { usePlayer } from '../../sound/usePlayer'

const SHARES = [60, 80, 100]

/** The whole part to listen to, repeats played out, at shares of the goal. */
export function Reference({ detail }: { detail: PartDetail }) {
  const reference = useQuery({
    queryKey: partKeys.reference(detail.part.id),
    queryFn: () => ask(getReference({ path: { part_id: detail.part.id } })),
    staleTime: Infinity,
    enabled: false,
  })
  const player = usePlayer(null)
  const goal = detail.part.goal_bpm
  async function listen(share: number) {
    const data = reference.data ?? (await reference.refetch()).data
    if (!data) return
    player.start({
      notes: data.sounds.map((s) => ({ at: toNumber(s.at), duration: toNumber(s.duration), midi: s.midi, note: s.note })),
      quarters: toNumber(data.quarters),
      beat: toNumber(data.beat),
      click: toNumber(data.beat),
      clickAt: 0,
      clicks: [],
      tempo: (goal * share) / 100,
      countIn: [],
      isLoop: false,
      hasClick: false,
      hasSound: true,
      family: data.family,
    })
  }
  return (
    <section className="reference" aria-label="Reference sound of the whole part">
      <strong>The whole part to listen to</strong>{' '}
      {SHARES.map((share) => (
        <Button key={share} size="small" loading={reference.isFetching} onClick={() => void listen(share)}>
          {share} % ({bpm(Math.round((goal * share) / 100))})
        </Button>
      ))}
      {player.isRunning && (
        <Button size="small" onClick={player.stop}>
          Stop
        </Button>
      )}
      {reference.isError && <span role="alert"> {said(reference.error)}</span>}
    </section>
  )
}
