import type { CellOut, ChunkOut, MeasureOut } from '../../api/gen'
import { segmentsOf, type MeasureBox } from '../pure/scoreMap'
import { LevelShape } from './LevelMark'

interface Props {
  boxes: MeasureBox[]
  chunks: ChunkOut[]
  cells: CellOut[]
  measures: MeasureOut[]
  selected: number
  width: number
  height: number
}

const MARK = 22

/** One's own chunks over the music, each with its level; a seam that is shown closes its edge. */
export function MyBrackets({ boxes, chunks, cells, measures, selected, width, height }: Props) {
  return (
    <svg className="brackets" width={width} height={height} aria-hidden="true">
      {chunks.map((chunk, place) => {
        const cell = cells[place]
        const level = cell?.level ?? 0
        return (
          <g key={chunk.id} className={place === selected ? 'chunk selected' : 'chunk'}>
            {segmentsOf(chunk, boxes, measures).map((segment) => {
              const { x0, x1, rise, top, bottom, isFirst, isLast } = segment
              const edge = (x: number, isShown: boolean) => (
                <path className={isShown ? 'seam' : 'seam open'} d={`M${x} ${rise}V${rise + 14}`} />
              )
              return (
                <g key={top}>
                  <rect className="wash" x={x0} y={top - 6} width={Math.max(x1 - x0, 1)} height={bottom - top + 12} />
                  <path className="bracket" d={`M${x0} ${rise}H${x1}`} />
                  {isFirst && edge(x0, cell?.seam_in ?? false)}
                  {isLast && edge(x1, cell?.seam_out ?? false)}
                  {isFirst && (
                    <g
                      className={`level level-${level}`}
                      transform={`translate(${Math.min(x0, width - MARK)} ${rise - MARK - 2})`}
                    >
                      <svg width={MARK} height={MARK} viewBox="0 0 24 24">
                        <LevelShape level={level} />
                      </svg>
                    </g>
                  )}
                </g>
              )
            })}
          </g>
        )
      })}
    </svg>
  )
}
