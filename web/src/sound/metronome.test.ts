import { AudioClock } from './clock'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { clearStage, gaps, pass, setStage, stage } from '../testing/sounds'
import { Metronome, type Beat, type ClickPlan } from './metronome'
import { countInOf, roundOf, type ClickMode, type Meter } from './strokes'

const four: Meter = {
  beat: 1,
  bar: [1, 1, 1, 1],
  clicks: [],
  bars: [0],
  quarters: 4,
  smallest: 0.25,
  click: 1,
  clickAt: 0,
}

function aPlan(meter: Partial<Meter> = {}, mode: ClickMode = 'asked', more: Partial<ClickPlan> = {}): ClickPlan {
  const whole = { ...four, ...meter }
  return { tempo: 120, beat: whole.beat, round: roundOf(whole, mode), countIn: countInOf(whole), volume: 0.5, ...more }
}

const plan = aPlan()

beforeEach(setStage)
afterEach(clearStage)

describe('the metronome', () => {
  it('counts in higher, then clicks every half second at 120', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start(plan)
    pass(4)
    expect(stage.tones.slice(0, 6).map((c) => c.pitch)).toEqual([1320, 1320, 1320, 1320, 880, 880])
    expect(new Set(gaps())).toEqual(new Set([0.5]))
    metronome.stop()
  })

  it('is not late when the page is: the times are those of the sound card', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start(plan)
    pass(1)
    stage.now += 0.3 // the page was busy for a moment
    pass(2)
    expect(new Set(gaps())).toEqual(new Set([0.5]))
    metronome.stop()
  })

  it('does not make up for what it missed while the page slept', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start(plan)
    pass(1)
    const before = stage.tones.length
    stage.now += 60
    pass(0.5)
    expect(stage.tones.length - before).toBeLessThan(4)
    expect(stage.tones.at(-1)?.at).toBeGreaterThan(60)
    metronome.stop()
  })

  it('is where it should be after ten minutes, to a millionth of a second', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start(aPlan({}, 'beat', { tempo: 83, countIn: [] }))
    pass(600)
    const first = stage.tones[0]?.at ?? 0
    expect(stage.tones.length).toBeGreaterThan(820)
    stage.tones.forEach((tone, i) => expect(Math.abs(tone.at - first - (i * 60) / 83)).toBeLessThan(1e-6))
    metronome.stop()
  })

  it('takes a new tempo from the next click on', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start({ ...plan, countIn: [] })
    pass(1)
    metronome.change({ ...plan, countIn: [], tempo: 60 })
    pass(4)
    expect(gaps().slice(-2)).toEqual([1, 1])
    metronome.stop()
  })

  it('counts in on the beat and then clicks between the beats where the drill says so', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start(aPlan({}, 'off-beat'))
    pass(4)
    const [, , , last, first, second] = stage.tones
    expect((first?.at ?? 0) - (last?.at ?? 0)).toBeCloseTo(0.75)
    expect((second?.at ?? 0) - (first?.at ?? 0)).toBeCloseTo(0.5)
    metronome.stop()
  })

  it('clicks long and short beats in turn, round after round', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start(
      aPlan({ bar: [1.5, 1], beat: 0.5, click: 0.5, clicks: [0, 1.5], quarters: 2.5 }, 'asked', { tempo: 60 }),
    )
    pass(16)
    expect(
      gaps()
        .slice(0, 5)
        .map((gap) => Math.round(gap * 100) / 100),
    ).toEqual([3, 2, 3, 2, 3])
    metronome.stop()
  })

  it('clicks subdivisions and dotted beats at their own length', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start(aPlan({ click: 0.5 }, 'asked', { countIn: [] }))
    pass(2)
    expect(new Set(gaps())).toEqual(new Set([0.25]))
    metronome.stop()
    stage.tones = []
    await metronome.start(aPlan({ bar: [1.5, 1.5], beat: 1.5, click: 1.5 }, 'asked', { tempo: 60 }))
    pass(4)
    expect(new Set(gaps())).toEqual(new Set([1]))
    metronome.stop()
  })

  it('tells each beat, in the count-in how many are left', async () => {
    const told: Beat[] = []
    const metronome = new Metronome((beat) => told.push(beat), new AudioClock())
    await metronome.start(plan)
    pass(3)
    expect(told.slice(0, 6).map((beat) => beat.left)).toEqual([4, 3, 2, 1, 0, 0])
    metronome.stop()
  })

  it('changes the way to click without moving the beats', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start(aPlan({}, 'beat', { countIn: [] }))
    pass(1.2)
    const beats = stage.tones.map((tone) => tone.at)
    metronome.change(aPlan({}, 'subdivision', { countIn: [] }))
    pass(2)
    const after = stage.tones.slice(beats.length)
    const start = beats[0] ?? 0
    expect(new Set(after.map((tone) => Math.round(((tone.at - start) % 0.25) * 1e6) % 250_000))).toEqual(new Set([0]))
    expect(gaps(after)).toContain(0.25)
    metronome.stop()
  })

  it('falls silent for two measures of four and tells how far a tap there is off', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start(aPlan({}, 'two-and-two', { countIn: [] }))
    pass(4.2)
    expect(stage.tones).toHaveLength(8)
    // The silent beat nearest to now lies at 4.06; the tap comes a little after it.
    const off = metronome.offBy(performance.now() + (4.06 + 0.02 - stage.now) * 1000)
    expect(off).toBeCloseTo(0.04, 2)
    pass(5)
    expect(stage.tones.length).toBeGreaterThan(8)
    metronome.stop()
  })

  it('is silent once it was stopped, and starts anew from its count-in', async () => {
    const metronome = new Metronome(undefined, new AudioClock())
    await metronome.start(plan)
    pass(1)
    metronome.stop()
    expect(metronome.isRunning).toBe(false)
    const before = stage.tones.length
    pass(2)
    expect(stage.tones.length).toBe(before)
    await metronome.start(plan)
    expect(metronome.isRunning).toBe(true)
    pass(0.1)
    expect(stage.tones.at(-1)?.pitch).toBe(1320)
    metronome.stop()
  })
})
