import { memo, useState, type PointerEvent } from 'react'
import type { ChunkOut, MeasureOut, PositionOut } from '../../api/gen'
import { explained } from '../../shared/ui/Place'
import { segmentsOf, xOf, type MeasureBox, type Segment } from '../../shared/pure/scoreMap'

interface Props {
  boxes: MeasureBox[]
  chunks: ChunkOut[]
  measures: MeasureOut[]
  selected: number
  cursor: PositionOut
  width: number
  height: number
  moveEdge: (place: number, x: number, y: number) => void
}

/** Chunk brackets with their tabs, and the cursor, laid over the score. */
export const Brackets = memo(function Brackets(props: Props) {
  const { boxes, chunks, measures, selected, cursor, width, height, moveEdge } = props
  const box = boxes.find((b) => b.index === cursor.index)
  const cursorX = box ? xOf(box, cursor.at, measures[box.index]?.length ?? '0', true) : 0
  return (
    <svg className="brackets" width={width} height={height} aria-hidden="true">
      {chunks.map((chunk, place) => (
        <g key={chunk.id} className={place === selected ? 'chunk selected' : 'chunk'} data-label={chunk.label}>
          {segmentsOf(chunk, boxes, measures).map((segment) => (
            <Bracket
              key={segment.top}
              segment={segment}
              chunk={chunk}
              width={width}
              drop={place + 1 < chunks.length ? (x, y) => moveEdge(place, x, y) : null}
            />
          ))}
        </g>
      ))}
      {box && <path className="cursor" d={`M${cursorX} ${box.top - 14}V${box.bottom + 14}`} />}
    </svg>
  )
})

interface BracketProps {
  segment: Segment
  chunk: ChunkOut
  /** Of the sheet, which no tab leaves. */
  width: number
  /** Where a dragged end was let go; null for the end of the music, which does not move. */
  drop: ((x: number, y: number) => void) | null
}

function Bracket({ segment, chunk, width, drop }: BracketProps) {
  const y = segment.rise
  const { x0, x1, isFirst, isLast } = segment
  const left = isFirst ? `M${x0} ${y + 12}V${y}` : `M${x0} ${y}`
  const right = isLast ? `V${y + 12}` : ''
  const tabWidth = chunk.tab.length * 8 + 14
  const told = explained(chunk.label, chunk.tab)
  const tabX = Math.max(Math.min(x0, width - tabWidth), 0)
  return (
    <>
      <rect
        className="wash"
        x={x0}
        y={segment.top - 6}
        width={Math.max(x1 - x0, 1)}
        height={segment.bottom - segment.top + 12}
      />
      <path className="bracket" d={`${left}H${x1}${right}`} />
      {isLast && chunk.landing && <path className="landing" d={`M${x1} ${y}h10v9m-4 -5l4 5l4 -5`} />}
      {isLast && drop && <Handle x={x1} top={y} bottom={segment.bottom + 8} drop={drop} />}
      {isFirst && (
        <>
          <rect className="tab" x={tabX} y={y - 19} width={tabWidth} height={19} rx={2}>
            {told && <title>{told}</title>}
          </rect>
          <text className="tab-text" x={tabX + 7} y={y - 5}>
            {chunk.tab}
          </text>
        </>
      )}
    </>
  )
}

/** The end of a chunk, to be dragged to another note; the keys [ and ] do the same by beats. */
function Handle({
  x,
  top,
  bottom,
  drop,
}: {
  x: number
  top: number
  bottom: number
  drop: (x: number, y: number) => void
}) {
  const [moved, setMoved] = useState<{ dx: number; dy: number } | null>(null)
  const [from, setFrom] = useState({ x: 0, y: 0 })
  function down(event: PointerEvent<SVGRectElement>) {
    event.currentTarget.setPointerCapture(event.pointerId)
    setFrom({ x: event.clientX, y: event.clientY })
    setMoved({ dx: 0, dy: 0 })
  }
  function move(event: PointerEvent<SVGRectElement>) {
    if (moved) setMoved({ dx: event.clientX - from.x, dy: event.clientY - from.y })
  }
  function up() {
    if (moved && Math.abs(moved.dx) + Math.abs(moved.dy) > 6) {
      drop(x + moved.dx, (top + bottom) / 2 + moved.dy)
    }
    setMoved(null)
  }
  return (
    <>
      <rect
        className="handle"
        x={x - 6}
        y={top}
        width={12}
        height={bottom - top}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={() => setMoved(null)}
        onClick={(event) => event.stopPropagation()}
      />
      {moved && <path className="ghost" d={`M${x + moved.dx} ${top + moved.dy}V${bottom + moved.dy}`} />}
    </>
  )
}
