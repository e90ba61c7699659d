import { describe, expect, it } from 'vitest'
import { comingOf, type PlayPlan } from './player'
import { frequencyOf, voiceOf } from './voices'

const plan: PlayPlan = {
  notes: [
    { at: 0, duration: 0.75, midi: 60, note: 'a' },
    { at: 0.75, duration: 0.25, midi: 62, note: 'b' },
  ],
  quarters: 2,
  beat: 1,
  click: 1,
  clickAt: 0,
  clicks: [],
  tempo: 82,
  countIn: [1, 1, 1, 1],
  isLoop: true,
  hasClick: true,
  hasSound: true,
  family: 'clarinet',
}

describe('a round', () => {
  it('counts in once, then clicks under the notes', () => {
    expect(
      comingOf(plan, true)
        .filter((c) => c.kind === 'high click')
        .map((c) => c.at),
    ).toEqual([-4, -3, -2, -1])
    expect(comingOf(plan, false).map((c) => [c.kind, c.at])).toEqual([
      ['click', 0],
      ['note', 0],
      ['note', 0.75],
      ['click', 1],
    ])
  })
  it('puts the click between the beats where the drill says so', () => {
    const clicks = comingOf({ ...plan, clickAt: 0.5 }, false).filter((c) => c.kind === 'click')
    expect(clicks.map((c) => c.at)).toEqual([0.5, 1.5])
  })
  it('counts in and clicks the beats of 3+2/8, long and short', () => {
    const five = { ...plan, click: 0.5, clicks: [0, 1.5], quarters: 2.5, countIn: [1.5, 1] }
    expect(
      comingOf(five, true)
        .filter((c) => c.kind !== 'note')
        .map((c) => c.at),
    ).toEqual([-2.5, -1, 0, 1.5])
  })
  it('counts in to the beat where the music starts off it', () => {
    const late = { ...plan, clicks: [0.5, 1.5], countIn: [1, 1] }
    expect(
      comingOf(late, true)
        .filter((c) => c.kind === 'high click')
        .map((c) => c.at),
    ).toEqual([-1.5, -0.5])
  })
  it('has no click where there is none, and none beyond the end', () => {
    expect(comingOf({ ...plan, click: 0 }, false).every((c) => c.kind === 'note')).toBe(true)
    expect(comingOf({ ...plan, quarters: 1 }, false).filter((c) => c.kind === 'click')).toHaveLength(1)
  })
})

describe('tones', () => {
  it('are in tune: the A of 440 and its octave', () => {
    expect(frequencyOf(69)).toBe(440)
    expect(frequencyOf(81)).toBe(880)
  })
  it('differ by family, and an unknown one has a sound too', () => {
    expect(voiceOf('clarinet')).not.toBe(voiceOf('trumpet'))
    expect(voiceOf('something').loudness).toBeGreaterThan(0)
  })
})
