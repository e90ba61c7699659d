import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it, vi } from 'vitest'
import type { PracticeSession } from '../../practice/session'
import { show } from '../../testing/show'
import { Doubts, JumpQuestion } from './Notices'

const aSession = () => ({ say: vi.fn(), backToLadder: vi.fn() })

describe('a tempo above the next rung', () => {
  it('asks why, and marks the reason that was given', async () => {
    const session = aSession()
    show(<JumpQuestion session={session as unknown as PracticeSession} reason="My teacher said so" />)
    expect(screen.getByRole('button', { name: 'My teacher said so' }).getAttribute('aria-pressed')).toBe('true')
    await userEvent.click(screen.getByRole('button', { name: 'I could play it before' }))
    expect(session.say).toHaveBeenCalledWith('I could play it before')
  })

  it('leads back to the ladder', async () => {
    const session = aSession()
    show(<JumpQuestion session={session as unknown as PracticeSession} reason="" />)
    await userEvent.click(screen.getByRole('button', { name: 'Back to the ladder' }))
    expect(session.backToLadder).toHaveBeenCalledOnce()
  })
})

describe('repetitions that are saved and not counted', () => {
  it.each([
    [1, 'One repetition is saved but not counted. Too fast.'],
    [3, '3 repetitions are saved but not counted. Too fast.'],
  ])('%i', (count, sentence) => {
    show(<Doubts doubted={Array.from({ length: count }, (_, n) => ({ id: String(n), say: 'Too fast.' }))} />)
    expect(screen.getByRole('status').textContent).toBe(sentence)
  })

  it('are not named where there are none', () => {
    expect(show(<Doubts doubted={[]} />).container.textContent).toBe('')
  })
})
