import { screen } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import type { MyPlanOut, PlannedItemOut } from '../../api/gen'
import { show } from '../../testing/show'
import { MyPlan } from './MyPlan'

const item = (id: string, session: number, more: Partial<PlannedItemOut> = {}): PlannedItemOut => ({
  category: 'focus',
  is_break_after: false,
  minutes: 6,
  session,
  why: 'It is the hardest place.',
  item: {
    item_id: id,
    chunk: '33–36',
    drill: 'Slow and twice',
    due_on: '2026-12-04',
    goal_bpm: 96,
    is_at_goal: false,
    is_finished: false,
    level: 2,
    minutes: 6,
    note: '',
    part: 'Flute',
    rests: false,
    role: 'focus',
    tempo: 60,
    title: 'Etude',
  } as PlannedItemOut['item'],
  ...more,
})
const plan = (more: Partial<MyPlanOut>): MyPlanOut => ({
  plan_id: 'p',
  title: 'Etude',
  part: 'Flute',
  on: '2026-12-20',
  is_laid_out: true,
  is_whole: false,
  minutes_a_day: 20,
  minutes_today: null,
  items: [],
  ahead: [],
  week: null,
  ...more,
})

describe('a day of a plan', () => {
  it('says that nothing is planned', () => {
    show(<MyPlan plan={plan({})} />)
    expect(screen.getByText('Nothing is planned for today.')).toBeTruthy()
  })

  it('says that a day off comes another day, and how to have it after all', () => {
    show(<MyPlan plan={plan({ minutes_today: 0 })} />)
    expect(screen.getByText('Not today. Your planned work comes another day.')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'As usual: 20 minutes' })).toBeTruthy()
  })

  it('says what, for how long, and why', () => {
    show(<MyPlan plan={plan({ items: [item('a', 1)] })} />)
    const row = screen.getByRole('listitem')
    expect(row.textContent).toContain('33–36')
    expect(row.textContent).toContain('6 min')
    expect(row.textContent).toContain('It is the hardest place.')
  })

  it('names its sessions only where there are several', () => {
    show(<MyPlan plan={plan({ items: [item('a', 1), item('b', 1)] })} />)
    expect(screen.queryByRole('heading', { name: 'Session 1' })).toBeNull()
  })

  it('heads each of several sessions, and puts the break where it belongs', () => {
    show(<MyPlan plan={plan({ items: [item('a', 1, { is_break_after: true }), item('b', 2)] })} />)
    expect(screen.getByRole('heading', { name: 'Session 2' })).toBeTruthy()
    expect(screen.getByText('Five minutes off')).toBeTruthy()
  })

  it('cannot be cut to ten minutes twice', () => {
    show(<MyPlan plan={plan({ minutes_today: 10 })} />)
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'I have only 10 minutes' }).disabled).toBe(true)
  })
})
