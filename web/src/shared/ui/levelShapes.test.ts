import { expect, test } from 'vitest'
import { LEVEL_SHAPES } from './levelShapes'

test('no two levels look alike, without their colour either', () => {
  expect(new Set(LEVEL_SHAPES.map((pieces) => JSON.stringify(pieces)))).toHaveLength(7)
})

test('all of a shape lies in its box of 24 by 24', () => {
  for (const { d } of LEVEL_SHAPES.flat())
    for (const number of d.match(/-?[\d.]+/g) ?? []) expect(Math.abs(Number(number))).toBeLessThanOrEqual(24)
})
