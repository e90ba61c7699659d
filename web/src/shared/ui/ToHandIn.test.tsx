import { screen, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import type { OwedOut, ThingOut } from '../../api/gen'
import { show } from '../../testing/show'
import { Asked, ToHandIn } from './ToHandIn'

const passage = (label: string) => ({
  part_id: 'p',
  chunk_id: label,
  title: 'Etude',
  part: 'Flute',
  label,
  least_seconds: 12,
})
const task = (states: ThingOut['state'][], isClosed = false): OwedOut => ({
  id: states.join(),
  due_on: '2026-12-04',
  is_closed: isClosed,
  things: states.map((state, n) => ({ state, either: [passage(`${n + 1}–${n + 4}`)] })),
})

describe('takes that a student owes', () => {
  it('are counted on Today, those that are too short with them', () => {
    show(<ToHandIn asked={[task(['open', 'short', 'done'])]} />)
    expect(screen.getByRole('link').textContent).toBe('2 takes to hand in')
  })

  it.each([[[]], [[task(['done'])]], [[task(['waiting'])]], [[task(['open'], true)]]])(
    'are not named where nothing is left to do',
    (asked) => {
      const { container } = show(<ToHandIn asked={asked} />)
      expect(container.textContent).toBe('')
    },
  )

  it('say how far each is', () => {
    show(<Asked asked={[task(['open', 'short', 'waiting', 'done'])]} />)
    const [open, short, waiting, done] = within(screen.getByRole('region', { name: 'Asked for' })).getAllByRole(
      'listitem',
    )
    expect(open?.textContent).toMatch(/12 s or more$/)
    expect(short?.textContent).toContain('handed in, but too short')
    expect(waiting?.textContent).toContain('being prepared')
    expect(done?.textContent).toMatch(/^✓.*handed in$/)
  })

  it('lead to the recorder of their passage', () => {
    show(<Asked asked={[task(['open'])]} />)
    expect(screen.getByRole('link').getAttribute('href')).toBe('/takes?part=p&chunk=1–4')
  })
})
