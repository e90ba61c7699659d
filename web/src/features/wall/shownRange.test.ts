import { expect, test } from 'vitest'
import { shownRange } from './shownRange'

test('what is seen is drawn, and so many beyond it on both sides', () => {
  for (let start = 0; start < 190; start++) {
    const [from, to] = shownRange({ startIndex: start, endIndex: start + 13 }, 200, 2, 4)
    expect(from).toBeLessThanOrEqual(Math.max(start - 2, 0))
    expect(to).toBeGreaterThanOrEqual(Math.min(start + 16, 200))
    expect(to - from).toBeLessThanOrEqual(14 + 2 * 2 + 2 * 3)
  }
})

test('a step to the side within a group changes nothing', () => {
  const ranges = new Set(
    Array.from({ length: 40 }, (_, start) =>
      shownRange({ startIndex: start, endIndex: start + 13 }, 200, 2, 4).join(' '),
    ),
  )
  expect(ranges.size).toBeLessThanOrEqual(22)
})

test('nothing is drawn before it is known what is seen', () => {
  expect(shownRange(null, 200, 2, 4)).toEqual([0, 0])
})
