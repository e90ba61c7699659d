import { describe, expect, it } from 'vitest'
import { isSameTime, toNumber } from './fraction'
import { measureTitle, placeLabel } from './places'
import { bpm, clock, minutes } from './time'

describe('exact time', () => {
  it('is compared without rounding', () => {
    expect(isSameTime('1/3', '2/6')).toBe(true)
    expect(isSameTime('1/3', '333333333/1000000000')).toBe(false)
  })
  it('becomes a number where pixels need one', () => {
    expect(toNumber('3/2')).toBe(1.5)
    expect(toNumber('4')).toBe(4)
  })
})

describe('times in words', () => {
  it('shows seconds below a minute and a clock above', () => {
    expect([clock(45), clock(386), clock(59.6)]).toEqual(['45 s', '6:26', '1:00'])
  })
  it('never says nought minutes of something that takes time', () => {
    expect([minutes(0), minutes(20), minutes(170)]).toEqual(['0 min', '1 min', '3 min'])
  })
  it('shows whole tempos whole', () => {
    expect([bpm(106), bpm(70.666)]).toEqual(['106', '70.7'])
  })
})

describe('places in words', () => {
  const measures = ['0', '1'].map((number) => ({ number, beats: ['0', '1'], first_beat: 1, length: '2' }))
  it('never name a measure nought', () => {
    expect(placeLabel(measures, { index: 0, at: '1' })).toBe('the pickup beat 2')
    expect([measureTitle(measures, 0), measureTitle(measures, 1)]).toEqual(['The pickup', 'Measure 1'])
  })
})
