import { memo } from 'react'
import type { ChunkOut, MeasureOut, PositionOut } from '../../api/gen'
import { segmentsOf, xOf, type MeasureBox, type Segment } from './scoreMap'

interface Props {
  boxes: MeasureBox[]
  chunks: ChunkOut[]
  measures: MeasureOut[]
  selected: number
  cursor: PositionOut
  width: number
  height: number
}

/** Chunk brackets with their tabs, and the cursor, laid over the score. */
export const Brackets = memo(function Brackets(props: Props) {
  const { boxes, chunks, measures, selected, cursor, width, height } = props
  const box = boxes.find((b) => b.index === cursor.index)
  const cursorX = box ? xOf(box, cursor.at, measures[box.index]?.length ?? '0', true) : 0
  return (
    <svg className="brackets" width={width} height={height} aria-hidden="true">
      {chunks.map((chunk, place) => (
        <g key={chunk.id} className={place === selected ? 'chunk selected' : 'chunk'} data-label={chunk.label}>
          {segmentsOf(chunk, boxes, measures).map((segment) => (
            <Bracket key={segment.top} segment={segment} chunk={chunk} />
          ))}
        </g>
      ))}
      {box && <path className="cursor" d={`M${cursorX} ${box.top - 14}V${box.bottom + 14}`} />}
    </svg>
  )
})

function Bracket({ segment, chunk }: { segment: Segment; chunk: ChunkOut }) {
  const y = segment.rise
  const { x0, x1, isFirst, isLast } = segment
  const left = isFirst ? `M${x0} ${y + 12}V${y}` : `M${x0} ${y}`
  const right = isLast ? `V${y + 12}` : ''
  const tabWidth = chunk.label.length * 8 + 14
  return (
    <>
      <rect className="wash" x={x0} y={segment.top - 6} width={Math.max(x1 - x0, 1)} height={segment.bottom - segment.top + 12} />
      <path className="bracket" d={`${left}H${x1}${right}`} />
      {isLast && chunk.landing && <path className="landing" d={`M${x1} ${y}h10v9m-4 -5l4 5l4 -5`} />}
      {isFirst && (
        <>
          <rect className="tab" x={x0} y={y - 19} width={tabWidth} height={19} rx={2} />
          <text className="tab-text" x={x0 + 7} y={y - 5}>
            {chunk.label}
          </text>
        </>
      )}
    </>
  )
}
