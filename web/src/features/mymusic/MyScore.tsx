import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { ask } from '../../api/ask'
import { getMyScore, type PositionOut } from '../../api/gen'
import { placeLabel } from '../../shared/lib/places'
import { mapScore, nearest } from '../../shared/lib/scoreMap'
import { MarkPanel } from '../../shared/marks/MarkPanel'
import { Score } from '../../shared/ui/Score'
import { Failed, Loading } from '../../shared/ui/states'

/** A student's own copy of a part: what the director and the section leader wrote, and one's own. */
export default function MyScore() {
  const { partId = '' } = useParams()
  const key = ['me', 'part', partId] as const
  const score = useQuery({ queryKey: key, queryFn: () => ask(getMyScore({ path: { part_id: partId } })) })
  const [at, setAt] = useState<PositionOut>({ index: 0, at: '0' })
  if (score.isPending) return <Loading what="Engraving your part" />
  if (score.isError) return <Failed error={score.error} retry={() => void score.refetch()} />
  const { leads, measures } = score.data
  const labelOf = (place: PositionOut) => placeLabel(measures, place)
  function onClick(event: React.MouseEvent<HTMLDivElement>) {
    // Fingers are wide: the note nearest to the tap is meant.
    const corner = event.currentTarget.getBoundingClientRect()
    const place = nearest(mapScore(event.currentTarget), event.clientX - corner.left, event.clientY - corner.top)
    if (place) setAt(place)
  }
  return (
    <div className="page narrow">
      <p>
        <Link to="/map">My music</Link>
      </p>
      <h1>{score.data.title}</h1>
      <p className="muted">{score.data.part}. Tap a note, then write at it: only you see what you write{leads ? ', or your section if you say so' : ''}.</p>
      <div className="sheet my-sheet" onClick={onClick}>
        <Score svg={score.data.svg} label={`${score.data.title}, engraved with your marks`} />
      </div>
      <div className="my-panel">
        <MarkPanel
          partId={partId}
          marks={score.data.marks}
          at={at}
          atLabel={labelOf(at)}
          audiences={leads ? [{ value: '', label: 'Only me' }, { value: 'section', label: 'My section' }] : [{ value: '', label: 'Only me' }]}
          asLeader={leads}
          labelOf={labelOf}
          goTo={setAt}
          keys={[key]}
        />
      </div>
    </div>
  )
}
