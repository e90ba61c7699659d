import { expect, test } from 'vitest'
import { quartersAt, secondsAt, withKnown } from './align'

const AT_120 = 0.5

test('one tap on the first beat and the tempo say where every place is', () => {
  const known = withKnown([], { quarters: 0, seconds: 1.2 })
  expect(secondsAt(known, 8, AT_120)).toBeCloseTo(5.2)
  expect(quartersAt(known, 3.2, AT_120)).toBeCloseTo(4)
})

test('another tap anywhere mends it on both sides', () => {
  const known = withKnown(withKnown([], { quarters: 0, seconds: 1 }), { quarters: 8, seconds: 7 })
  expect(secondsAt(known, 4, AT_120)).toBeCloseTo(4)
  expect(secondsAt(known, 12, AT_120)).toBeCloseTo(10)
})

test('a third one bends only what lies between', () => {
  const known = [
    { quarters: 0, seconds: 0 },
    { quarters: 4, seconds: 4 },
    { quarters: 8, seconds: 6 },
  ]
  expect(secondsAt(known, 2, AT_120)).toBeCloseTo(2)
  expect(secondsAt(known, 6, AT_120)).toBeCloseTo(5)
  expect(quartersAt(known, 7, AT_120)).toBeCloseTo(10)
})

test('a tap that contradicts an earlier one takes its place', () => {
  const known = withKnown(
    [
      { quarters: 0, seconds: 1 },
      { quarters: 4, seconds: 3 },
    ],
    { quarters: 2, seconds: 4 },
  )
  expect(known).toEqual([
    { quarters: 0, seconds: 1 },
    { quarters: 2, seconds: 4 },
  ])
})

test('nothing sounds before the take begins', () => {
  expect(secondsAt([{ quarters: 4, seconds: 0.5 }], 0, AT_120)).toBe(0)
})
