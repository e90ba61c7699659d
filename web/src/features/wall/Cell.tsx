import { memo, type MouseEvent } from 'react'
import { LEVEL_NAMES, LevelMark } from '../../shared/ui/LevelMark'
import { STEADY } from '../../shared/lib/levels'
import { seamWords } from './cellWords'

interface Props {
  row: number
  column: number
  of: string
  on: string
  level: number | null
  seams: '' | 'in' | 'out' | 'both'
  isDue: boolean
  isChosen: boolean
  isTabStop: boolean
  left: number
  width: number
  onClick: (event: MouseEvent, row: number, column: number) => void
}

/** One student on one chunk: level, its seams at the edges, a dash where a cold check is due. */
export const Cell = memo(function Cell({ row, column, of, on, level, seams, isDue, isChosen, isTabStop, left, width, onClick }: Props) {
  const style = { left, width }
  if (level === null) {
    return (
      <span role="gridcell" aria-colindex={column + 2} className="wall-cell" style={style}>
        <button type="button" className="cell rests" data-cell={`${row} ${column}`} tabIndex={isTabStop ? 0 : -1} aria-disabled="true">
          <span className="visually-hidden">{of} rests here</span>
        </button>
      </span>
    )
  }
  const edges = level < STEADY ? '' : ` ${seams === 'in' || seams === 'both' ? 'seam-in' : 'open-in'} ${seams === 'out' || seams === 'both' ? 'seam-out' : 'open-out'}`
  return (
    <span role="gridcell" aria-colindex={column + 2} aria-selected={isChosen} className={`wall-cell${isDue ? ' is-due' : ''}${isChosen ? ' is-chosen' : ''}`} style={style}>
      <button
        type="button"
        className={`cell${edges}`}
        data-cell={`${row} ${column}`}
        tabIndex={isTabStop ? 0 : -1}
        aria-label={`${of}, ${on}: ${level}, ${LEVEL_NAMES[level] ?? ''}${seamWords(level, seams)}${isDue ? ', to be tried cold' : ''}`}
        onClick={(event) => onClick(event, row, column)}
      >
        <LevelMark level={level} size={20} />
      </button>
    </span>
  )
})
