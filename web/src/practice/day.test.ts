import { describe, expect, it } from 'vitest'
import { within } from './day'

const item = (name: string, minutes: number, is_finished = false) => ({ name, minutes, is_finished })
const names = (items: { name: string }[]) => items.map((one) => one.name)

describe('a day cut to fewer minutes', () => {
  const day = [item('warm-up', 3), item('focus', 6), item('link', 2), item('keep', 1)]

  it('keeps what comes first and fills up with what fits', () => {
    expect(names(within(day, 10))).toEqual(['warm-up', 'focus', 'keep'])
    expect(names(within(day, 12))).toEqual(['warm-up', 'focus', 'link', 'keep'])
  })

  it('never asks for more minutes than there are', () => {
    for (let minutes = 0; minutes < 15; minutes++) {
      expect(within(day, minutes).reduce((sum, one) => sum + one.minutes, 0)).toBeLessThanOrEqual(minutes)
    }
  })

  it('shows what is done already, which takes no minutes', () => {
    expect(names(within([item('done', 9, true), ...day], 3))).toEqual(['done', 'warm-up'])
    expect(within(day, 0)).toEqual([])
  })
})
