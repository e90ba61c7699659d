import { describe, expect, it } from 'vitest'
import { countInOf, roundOf, type ClickMode, type Meter } from './strokes'

const four: Meter = {
  beat: 1,
  bar: [1, 1, 1, 1],
  clicks: [],
  bars: [0],
  quarters: 8,
  smallest: 0.25,
  click: 1,
  clickAt: 0,
}
const sixEight: Meter = { ...four, beat: 1.5, bar: [1.5, 1.5], click: 1.5, quarters: 3, smallest: 0.5 }
/** 3+2/8, as eighths. */
const fiveEight: Meter = {
  ...four,
  beat: 0.5,
  bar: [1.5, 1],
  clicks: [0, 1.5],
  bars: [0],
  quarters: 2.5,
  smallest: 0.5,
}

const places = (meter: Meter, mode: ClickMode) =>
  roundOf(meter, mode).strokes.map((stroke) => Math.round(stroke.at * 1000) / 1000)

describe('where a metronome sounds', () => {
  it('on each beat, or as the drill asks', () => {
    expect(places(four, 'beat')).toEqual([0, 1, 2, 3])
    expect(places(four, 'asked')).toEqual([0, 1, 2, 3])
    expect(roundOf({ ...four, click: 0.25 }, 'asked')).toEqual({ strokes: [{ at: 0, sound: 'beat' }], length: 0.25 })
    expect(roundOf({ ...four, clickAt: 0.5 }, 'asked')).toEqual({ strokes: [{ at: 0.5, sound: 'beat' }], length: 1 })
  })

  it('divides a beat in two, a dotted one in three, unequal ones each by itself', () => {
    expect(places(four, 'subdivision')).toEqual([0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5])
    expect(places(sixEight, 'subdivision')).toEqual([0, 0.5, 1, 1.5, 2, 2.5])
    expect(places(fiveEight, 'subdivision')).toEqual([0, 0.5, 1, 1.5, 2])
  })

  it('between the beats, with a sound of its own', () => {
    expect(places(four, 'off-beat')).toEqual([0.5, 1.5, 2.5, 3.5])
    expect(new Set(roundOf(four, 'off-beat').strokes.map((stroke) => stroke.sound))).toEqual(new Set(['off']))
  })

  it('on every note: as the shortest one', () => {
    expect(places(four, 'every-note')).toHaveLength(16)
    expect(places(sixEight, 'every-note')).toEqual([0, 0.5, 1, 1.5, 2, 2.5])
  })

  it('on the first beat only, after a pickup where the measure begins', () => {
    expect(places(four, 'first-beat')).toEqual([0])
    expect(places({ ...four, bars: [1, 5] }, 'first-beat')).toEqual([1])
    expect(places(fiveEight, 'first-beat')).toEqual([0])
  })

  it('two measures on and two off, whatever the length of the step', () => {
    const round = roundOf(four, 'two-and-two')
    expect(round.length).toBe(16)
    expect(round.strokes.map((stroke) => stroke.sound)).toEqual([
      ...Array<string>(8).fill('beat'),
      ...Array<string>(8).fill('silent'),
    ])
    const five = roundOf(fiveEight, 'two-and-two')
    expect([five.length, five.strokes.filter((stroke) => stroke.sound === 'silent').length]).toEqual([10, 4])
  })

  it('accents the first beat where that is wanted', () => {
    expect(roundOf(four, 'beat', true).strokes.map((stroke) => stroke.sound)).toEqual(['first', 'beat', 'beat', 'beat'])
    expect(roundOf({ ...four, bars: [3, 7] }, 'beat', true).strokes[3]).toEqual({ at: 3, sound: 'first' })
  })
})

describe('the count-in', () => {
  it('is a measure', () => {
    expect(countInOf(four)).toEqual([-4, -3, -2, -1])
    expect(countInOf(sixEight)).toEqual([-3, -1.5])
    expect(countInOf(fiveEight)).toEqual([-2.5, -1])
  })

  it('leads up to a pickup, and is a measure longer where that alone is too short', () => {
    expect(countInOf({ ...four, bars: [1, 5] })).toEqual([-3, -2, -1])
    expect(countInOf({ ...four, bars: [3, 7] })).toEqual([-5, -4, -3, -2, -1])
    expect(countInOf({ ...four, bars: [0.5, 4.5] })).toEqual([-3.5, -2.5, -1.5, -0.5])
  })
})
