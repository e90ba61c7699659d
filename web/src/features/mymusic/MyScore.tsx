import { useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Link, useParams } from 'react-router'
import { ask } from '../../api/ask'
import { getMyMap, getMyScore, type MyScoreOut, type PositionOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { placeLabel } from '../../shared/pure/places'
import { chunkAt, nearest } from '../../shared/pure/scoreMap'
import { useScoreBoxes } from '../../shared/hooks/useScoreBoxes'
import { MarkPanel } from '../../shared/ui/MarkPanel'
import { LevelMark } from '../../shared/ui/LevelMark'
import { Reference } from '../../shared/ui/Reference'
import { Score } from '../../shared/ui/Score'
import { Failed, Loading } from '../../shared/ui/states'
import { MyBrackets } from '../../shared/ui/MyBrackets'
import { t } from '../../words/words'
import './mymusic.css'

/** A student's own copy of a part: what the director and the section leader wrote, and one's own. */
export default function MyScore() {
  const { partId = '' } = useParams()
  const key = keys.myPart(partId)
  const score = useQuery({ queryKey: key, queryFn: () => ask(getMyScore({ path: { part_id: partId } })) })
  if (score.isPending) return <Loading what={t('mymusic.engravingYourPart')} />
  if (score.isError) return <Failed error={score.error} retry={() => void score.refetch()} />
  return <MyScoreView key={partId} partId={partId} score={score.data} />
}

function MyScoreView({ partId, score }: { partId: string; score: MyScoreOut }) {
  const [at, setAt] = useState<PositionOut>({ index: 0, at: '0' })
  const map = useQuery({ queryKey: keys.myMap, queryFn: () => ask(getMyMap()) })
  const sheet = useRef<HTMLDivElement>(null)
  const { boxes, size } = useScoreBoxes(sheet, score.svg)
  const { leads, measures } = score
  const key = keys.myPart(partId)
  const mine = map.data?.find((part) => part.part_id === partId)
  const here = mine ? chunkAt(mine.chunks, at) : -1
  const chunk = mine?.chunks[here]
  const cell = mine?.cells[here]
  const labelOf = (place: PositionOut) => placeLabel(measures, place)
  function onClick(event: React.MouseEvent<HTMLDivElement>) {
    // Fingers are wide: the note nearest to the tap is meant.
    const corner = event.currentTarget.getBoundingClientRect()
    const place = nearest(boxes, event.clientX - corner.left, event.clientY - corner.top)
    if (place) setAt(place)
  }
  return (
    <div className="page narrow">
      <p>
        <Link to="/map">{t('mymusic.myMusic')}</Link>
      </p>
      <h1>{score.title}</h1>
      <p className="muted">
        {t('mymusic.theShapesOverTheNotesShow', {
          part: score.part,
          audience: leads ? t('mymusic.orYourSectionIfYouSay') : '',
        })}
      </p>
      <div className="sheet my-sheet" onClick={onClick} ref={sheet}>
        <Score svg={score.svg} label={t('mymusic.engravedWithYourMarks', { title: score.title })} />
        {mine && (
          <MyBrackets
            boxes={boxes}
            chunks={mine.chunks}
            cells={mine.cells}
            measures={measures}
            selected={here}
            {...size}
          />
        )}
      </div>
      <Reference partId={partId} />
      <div className="my-panel">
        {chunk && cell && (
          <p className="my-standing" role="status">
            <LevelMark level={cell.level} /> <strong>{chunk.label.replace('→', '')}</strong> {cell.why}{' '}
            <span className="muted">{t('mymusic.next', { next: cell.next })}</span>
          </p>
        )}
        <MarkPanel
          partId={partId}
          marks={score.marks}
          at={at}
          atLabel={labelOf(at)}
          audiences={
            leads
              ? [
                  { value: '', label: t('mymusic.onlyMe') },
                  { value: 'section', label: t('mymusic.mySection') },
                ]
              : [{ value: '', label: t('mymusic.onlyMe') }]
          }
          asLeader={leads}
          labelOf={labelOf}
          goTo={setAt}
          keys={[key]}
        />
      </div>
    </div>
  )
}
