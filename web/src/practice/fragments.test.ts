import { describe, expect, it } from 'vitest'
import { fragmentsOf, onceMore, START, TIMES } from './fragments'

const notes = (count: number) => Array.from({ length: count }, (_, i) => `n${i}`)

describe('fragments', () => {
  it('are of five notes, and each begins where the last one landed', () => {
    const found = fragmentsOf(notes(17))
    expect(found).toHaveLength(4)
    expect(found.map((one) => one.length)).toEqual([5, 5, 5, 5])
    expect(found[1]?.[0]).toBe(found[0]?.at(-1))
  })

  it('leave no note out, however many there are', () => {
    for (let count = 1; count < 40; count++) {
      expect(new Set(fragmentsOf(notes(count)).flat()).size).toBe(count)
    }
  })

  it('come ten times each: twenty-two of them are two hundred and twenty', () => {
    let mark = START
    for (let i = 0; i < 22 * TIMES - 1; i++) mark = onceMore(mark, 22)
    expect(mark).toEqual({ fragment: 21, times: 9 })
    expect(onceMore(mark, 22)).toEqual(START)
  })
})
