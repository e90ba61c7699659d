import { useEffect, useMemo, useRef, useState, type MouseEvent } from 'react'
import { useParams } from 'react-router'
import type { ChunkOut, MapOut, PartDetail, PositionOut } from '../../api/gen'
import { useChunks, useEngraving, usePart } from '../../shared/lib/part.queries'
import { useKeys } from '../../shared/lib/useKeys'
import { PartHead } from '../../shared/ui/PartHead'
import { Score } from '../../shared/ui/Score'
import { Failed, Loading } from '../../shared/ui/states'
import { Brackets } from './Brackets'
import { GoalField } from './GoalField'
import { chunkAt, comparePlaces, mapScore, nearest, type MeasureBox } from './scoreMap'
import { SplitTools } from './SplitTools'
import { useChunkEdits } from './useChunkEdits'

export default function Splitter() {
  const { partId = '' } = useParams()
  const part = usePart(partId)
  const chunks = useChunks(partId)
  const engraving = useEngraving(partId, 'page')
  const failed = [part, chunks, engraving].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!part.data || !chunks.data || engraving.data === undefined) return <Loading what="Engraving the part" />
  return <SplitterView detail={part.data} map={chunks.data} svg={engraving.data} />
}

interface Props {
  detail: PartDetail
  map: MapOut
  svg: string
}

function SplitterView({ detail, map, svg }: Props) {
  const score = useRef<HTMLDivElement>(null)
  const { boxes, size } = useScoreBoxes(score, svg)
  const beats = useMemo(() => placesOf(detail), [detail])
  const [cursor, setCursor] = useState<PositionOut>({ index: 0, at: '0' })
  const selected = chunkAt(map.chunks, cursor)
  const chunk: ChunkOut | undefined = map.chunks[selected]
  const { apply, isBusy } = useChunkEdits(detail.part.id)

  const step = (by: number) => {
    const ahead = by > 0 ? beats.find((b) => comparePlaces(b, cursor) > 0) : beats.filter((b) => comparePlaces(b, cursor) < 0).at(-1)
    if (ahead) setCursor(ahead)
  }
  const toChunk = (place: number) => {
    const target = map.chunks[place]
    if (target) setCursor(target.start)
  }
  const actions = {
    split: () => apply({ op: 'split', at: cursor }),
    merge: () => chunk && apply({ op: 'merge', place: selected }),
    earlier: () => chunk && apply({ op: 'move-edge', place: selected, beats: -1 }),
    later: () => chunk && apply({ op: 'move-edge', place: selected, beats: 1 }),
    landing: () => chunk && apply({ op: 'landing', place: selected, on: !chunk.landing }),
    undo: () => map.can_undo && apply({ op: 'undo' }),
    redo: () => map.can_redo && apply({ op: 'redo' }),
  }
  useKeys({
    ArrowRight: () => step(1),
    ArrowLeft: () => step(-1),
    ArrowDown: () => toChunk(selected + 1),
    ArrowUp: () => toChunk(selected - 1),
    s: actions.split,
    m: actions.merge,
    '[': actions.earlier,
    ']': actions.later,
    l: actions.landing,
    z: actions.undo,
    y: actions.redo,
  })
  useScrollTo(score, boxes, cursor)

  const moveEdge = (place: number, x: number, y: number) => {
    const at = nearest(boxes, x, y)
    if (at) apply({ op: 'move-edge-to', place, at })
  }

  function onClick(event: MouseEvent) {
    const corner = score.current?.getBoundingClientRect()
    if (!corner) return
    const place = nearest(boxes, event.clientX - corner.left, event.clientY - corner.top)
    if (place) setCursor(place)
  }
  return (
    <div className="page wide">
      <PartHead detail={detail}>
        <GoalField detail={detail} />
      </PartHead>
      {detail.part.findings.length > 0 && (
        <ul className="findings">
          {detail.part.findings.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      )}
      <SplitTools
        partId={detail.part.id}
        map={map}
        chunk={chunk}
        cursorLabel={placeLabel(detail, cursor)}
        isBusy={isBusy}
        actions={actions}
        splitEvery={(measures) => apply({ op: 'by-measures', measures })}
      />
      {/* Every act of the mouse here is on the keyboard too: arrows move the cursor. */}
      <div className="sheet" onClick={onClick}>
        <Score ref={score} svg={svg} label={`${detail.title}, ${detail.part.name}, engraved`} />
        <Brackets
          boxes={boxes}
          chunks={map.chunks}
          measures={detail.measures}
          selected={selected}
          cursor={cursor}
          width={size.width}
          height={size.height}
          moveEdge={moveEdge}
        />
      </div>
      <ol className="visually-hidden" aria-label="Chunks">
        {map.chunks.map((c) => (
          <li key={c.id}>
            {c.label}
            {c.landing ? ' with landing' : ''}
          </li>
        ))}
      </ol>
    </div>
  )
}

function useScoreBoxes(score: React.RefObject<HTMLDivElement | null>, svg: string) {
  const [boxes, setBoxes] = useState<MeasureBox[]>([])
  const [size, setSize] = useState({ width: 0, height: 0 })
  useEffect(() => {
    const element = score.current
    if (!element) return
    const observer = new ResizeObserver(() => {
      setBoxes(mapScore(element))
      setSize({ width: element.clientWidth, height: element.clientHeight })
    })
    observer.observe(element)
    return () => observer.disconnect()
  }, [score, svg])
  return { boxes, size }
}

function useScrollTo(score: React.RefObject<HTMLDivElement | null>, boxes: MeasureBox[], cursor: PositionOut) {
  useEffect(() => {
    const corner = score.current?.getBoundingClientRect()
    const box = boxes.find((b) => b.index === cursor.index)
    if (!corner || !box) return
    const top = corner.top + box.top
    if (top < 190 || top > window.innerHeight - 110) {
      window.scrollBy({ top: top - window.innerHeight / 2, behavior: 'instant' })
    }
  }, [score, boxes, cursor])
}

function placesOf(detail: PartDetail): PositionOut[] {
  return detail.measures.flatMap((measure, index) => measure.beats.map((at) => ({ index, at })))
}

function placeLabel(detail: PartDetail, place: PositionOut): string {
  const measure = detail.measures[place.index]
  if (!measure) return ''
  const beat = measure.beats.indexOf(place.at)
  return beat >= 0 ? `measure ${measure.number}, beat ${beat + 1}` : `measure ${measure.number}, inside a beat`
}
