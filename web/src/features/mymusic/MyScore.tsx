import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { ask } from '../../api/ask'
import { getMyScore, type PositionOut } from '../../api/gen'
import { MarkPanel } from '../../shared/marks/MarkPanel'
import { Score } from '../../shared/ui/Score'
import { Failed, Loading } from '../../shared/ui/states'

const NOTE_ID = /^[nr](\d+)-(\d+)_(\d+)-/

/** A student's own copy of a part: what the director and the section leader wrote, and one's own. */
export default function MyScore() {
  const { partId = '' } = useParams()
  const key = ['me', 'part', partId] as const
  const score = useQuery({ queryKey: key, queryFn: () => ask(getMyScore({ path: { part_id: partId } })) })
  const [at, setAt] = useState<PositionOut>({ index: 0, at: '0' })
  const numbers = useMemo(() => numbersOf(score.data?.svg ?? ''), [score.data?.svg])
  if (score.isPending) return <Loading what="Engraving your part" />
  if (score.isError) return <Failed error={score.error} retry={() => void score.refetch()} />
  const labelOf = (place: PositionOut) => {
    const number = numbers.get(place.index) ?? String(place.index + 1)
    return place.at === '0' ? `measure ${number}` : `measure ${number}, ${place.at} quarters in`
  }
  function onClick(event: React.MouseEvent) {
    const target = (event.target as Element).closest('g.note, g.rest, g.mRest')
    const match = NOTE_ID.exec(target?.id ?? '')
    if (match) setAt({ index: Number(match[1]), at: match[3] === '1' ? (match[2] ?? '0') : `${match[2] ?? '0'}/${match[3] ?? '1'}` })
  }
  const { leads } = score.data
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
  )
}

/** Printed measure numbers by index, as the engraving has them. */
function numbersOf(svg: string): Map<number, string> {
  const page = new DOMParser().parseFromString(svg, 'text/html')
  const found = new Map<number, string>()
  for (const measure of page.querySelectorAll('g.measure')) {
    const index = Number(/^m(\d+)$/.exec(measure.id)?.[1] ?? NaN)
    const number = measure.querySelector('g.mNum')?.textContent.trim()
    if (!Number.isNaN(index) && number) found.set(index, number)
  }
  return found
}
