import { describe, expect, it } from 'vitest'
import type { PlanIn } from '../../api/gen'
import { taken, withChange, withoutChange } from './wish'

const wish: PlanIn = {
  part_id: 'p',
  section_id: 's',
  on: '2026-12-01',
  minutes_a_day: 20,
  weekdays_off: [6],
  changes: [],
  left: [],
}

describe('an offer that is taken', () => {
  it('changes what it says and nothing else', () => {
    expect(taken(wish, { kind: 'minutes', say: '', value: 35 })).toEqual({ ...wish, minutes_a_day: 35 })
    expect(taken(wish, { kind: 'date', say: '', value: '2026-12-09' })).toEqual({ ...wish, on: '2026-12-09' })
    expect(taken(wish, { kind: 'goal', say: '', value: 80 })).toEqual({ ...wish, goal: 80 })
    expect(taken(wish, { kind: 'days', say: '', value: [] })).toEqual({ ...wish, weekdays_off: [] })
  })

  it('leaves chunks at the tempo they have, each once', () => {
    const once = taken(wish, { kind: 'leave', say: '', value: [{ chunk: 'a', tempo: 60 }] })
    const both = taken(once, { kind: 'both', say: '', value: { minutes: 40, leave: [{ chunk: 'a', tempo: null }] } })
    expect(once.left).toEqual([{ chunk_id: 'a', tempo: 60 }])
    expect(both).toEqual({ ...wish, minutes_a_day: 40, left: [{ chunk_id: 'a', tempo: null }] })
  })
})

describe('a change by hand', () => {
  it('takes the place of one like it, and can be taken back', () => {
    const pinned = withChange(wish, { kind: 'pin', chunk_id: 'a', day: '2026-11-30' })
    const moved = withChange(pinned, { kind: 'pin', chunk_id: 'a', day: '2026-11-29' })
    expect(moved.changes).toEqual([{ kind: 'pin', chunk_id: 'a', day: '2026-11-29' }])
    const dropped = withChange(moved, { kind: 'drop', chunk_id: 'a', drill: 'blocks' })
    const more = withChange(dropped, { kind: 'drop', chunk_id: 'a', drill: 'stops' })
    expect(more.changes).toHaveLength(3)
    const first = more.changes?.[0]
    if (!first) throw new Error('there is one')
    expect(withoutChange(more, first).changes).toHaveLength(2)
  })
})
