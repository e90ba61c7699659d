import { screen } from '@testing-library/react'
import type { ComponentProps } from 'react'
import { describe, expect, it } from 'vitest'
import { show } from '../../testing/show'
import { Cell } from './Cell'

const cell: ComponentProps<typeof Cell> = {
  row: 0,
  column: 0,
  of: 'Nia',
  on: '33–36',
  level: 4,
  seams: 'both',
  isDue: false,
  isChosen: false,
  isTabStop: true,
  left: 0,
}
const named = (more: Partial<typeof cell>) => {
  show(<Cell {...cell} {...more} />)
  return screen.getByRole('gridcell')
}

describe('a cell of the Wall says', () => {
  it('who, where, and the level by number and name', () => {
    expect(named({}).getAttribute('aria-label')).toBe('Nia, 33–36: 4, linked')
  })

  it.each([
    ['', 'both seams open'],
    ['in', 'seam out open'],
    ['out', 'seam in open'],
  ] as const)('which seam is open, where %j is shown', (seams, words) => {
    expect(named({ seams }).getAttribute('aria-label')).toContain(words)
  })

  it('nothing of seams below steady', () => {
    expect(named({ level: 2, seams: '' }).getAttribute('aria-label')).toBe('Nia, 33–36: 2, rhythm')
  })

  it('that a cold try is due', () => {
    expect(named({ isDue: true }).getAttribute('aria-label')).toContain('due for a cold try')
  })

  it('that the part rests, and cannot be chosen there', () => {
    const rest = named({ level: null })
    expect(rest.getAttribute('aria-label')).toBe('Nia rests here')
    expect(rest.getAttribute('aria-disabled')).toBe('true')
  })

  it('that it is chosen, and takes part in the tab order once', () => {
    const chosen = named({ isChosen: true, isTabStop: false })
    expect(chosen.getAttribute('aria-selected')).toBe('true')
    expect(chosen.tabIndex).toBe(-1)
  })
})
