import { memo } from 'react'
import { STEADY } from '../../shared/pure/levels'
import { LEVEL_NAMES } from '../../shared/ui/LevelMark'
import { levelLetter } from '../../shared/ui/levelShapes'
import { seamWords } from './cellWords'
import { t } from '../../words/words'

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
}

/**
 * One student on one chunk: level, its seams at the edges, a dash where a cold check is due.
 * One element with two letters, the shape and the number: there are hundreds of them, and they move.
 */
export const Cell = memo(function Cell({ row, column, of, on, level, seams, isDue, isChosen, isTabStop, left }: Props) {
  const common = {
    role: 'gridcell',
    'aria-colindex': column + 2,
    'data-cell': `${row} ${column}`,
    tabIndex: isTabStop ? 0 : -1,
    style: { left },
  } as const
  if (level === null)
    return <div {...common} className="wall-cell rests" aria-label={t('wall.restsHere', { of })} aria-disabled="true" />
  const edges =
    level < STEADY
      ? ''
      : ` ${seams === 'in' || seams === 'both' ? 'seam-in' : 'open-in'} ${seams === 'out' || seams === 'both' ? 'seam-out' : 'open-out'}`
  return (
    <div
      {...common}
      className={`wall-cell level-${level}${edges}${isDue ? ' is-due' : ''}${isChosen ? ' is-chosen' : ''}`}
      aria-selected={isChosen}
      aria-label={`${of}, ${on}: ${level}, ${LEVEL_NAMES[level] ?? ''}${seamWords(level, seams)}${isDue ? t('wall.dueForAColdTryTail') : ''}`}
    >
      {levelLetter(level) + String(level)}
    </div>
  )
})
