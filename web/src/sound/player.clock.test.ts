import { AudioClock } from './clock'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { clearStage, gaps, pass, setStage, stage } from '../testing/sounds'
import { Player, type PlayPlan } from './player'
import { frequencyOf } from './voices'

/** Four eighths and a half note at 120: a quarter is half a second. */
const plan: PlayPlan = {
  notes: [
    { at: 0, duration: 0.5, midi: 60, note: 'a' },
    { at: 0.5, duration: 0.5, midi: 62, note: 'b' },
    { at: 1, duration: 0.5, midi: 64, note: 'c' },
    { at: 1.5, duration: 0.5, midi: 65, note: 'd' },
    { at: 2, duration: 2, midi: 67, note: 'e' },
  ],
  quarters: 4,
  beat: 1,
  click: 1,
  clickAt: 0,
  clicks: [],
  tempo: 120,
  countIn: [1, 1, 1, 1],
  isLoop: false,
  hasClick: true,
  hasSound: true,
  family: 'clarinet',
}

const played = () => stage.tones.filter((tone) => tone.isPlayed)
const clicks = () => stage.tones.filter((tone) => !tone.isPlayed)

beforeEach(setStage)
afterEach(clearStage)

describe('a player', () => {
  it('counts in, then plays each note at its own time and pitch', async () => {
    const player = new Player(undefined, undefined, new AudioClock())
    await player.start(plan)
    pass(5)
    expect(
      clicks()
        .slice(0, 4)
        .map((c) => c.pitch),
    ).toEqual([1320, 1320, 1320, 1320])
    const start = (clicks()[0]?.at ?? 0) + 2
    expect(played().map((tone) => Number((tone.at - start).toFixed(9)))).toEqual([0, 0.25, 0.5, 0.75, 1])
    expect(played().map((tone) => tone.pitch)).toEqual([60, 62, 64, 65, 67].map(frequencyOf))
  })

  it('clicks on under the notes on every beat, and stops by itself at the end', async () => {
    let ended = 0
    const player = new Player(
      undefined,
      () => {
        ended += 1
      },
      new AudioClock(),
    )
    await player.start(plan)
    pass(6)
    expect(clicks()).toHaveLength(8)
    expect(new Set(gaps(clicks()))).toEqual(new Set([0.5]))
    expect([player.isRunning, ended]).toEqual([false, 1])
  })

  it('follows the music with its cursor and takes it away at the end', async () => {
    const shown: (string | null)[] = []
    const player = new Player((id) => shown.push(id), undefined, new AudioClock())
    await player.start({ ...plan, countIn: [] })
    pass(4)
    expect(shown.filter((id, i) => id !== null || i > 0)).toEqual(['a', 'b', 'c', 'd', 'e', null])
  })

  it('plays round after round in a loop, counting in only once', async () => {
    const player = new Player(undefined, undefined, new AudioClock())
    await player.start({ ...plan, isLoop: true })
    pass(10)
    expect(clicks().filter((c) => c.pitch === 1320)).toHaveLength(4)
    const firsts = played().filter((tone) => tone.pitch === frequencyOf(60))
    expect(firsts.length).toBeGreaterThanOrEqual(3)
    expect(new Set(gaps(firsts)).size).toBe(1)
    expect(player.isRunning).toBe(true)
    player.stop()
  })

  it('takes another tempo from where it stands, without a note twice or lost', async () => {
    const player = new Player(undefined, undefined, new AudioClock())
    await player.start({ ...plan, countIn: [], hasClick: false })
    pass(0.55)
    player.change({ ...plan, countIn: [], hasClick: false, tempo: 60 })
    pass(6)
    expect(played().map((tone) => tone.pitch)).toEqual([60, 62, 64, 65, 67].map(frequencyOf))
    const [, , third, fourth, fifth] = played()
    expect((fifth?.at ?? 0) - (fourth?.at ?? 0)).toBeCloseTo(0.5, 1)
    expect((fourth?.at ?? 0) - (third?.at ?? 0)).toBeGreaterThan(0.25)
  })

  it('can click alone and can sound alone', async () => {
    const player = new Player(undefined, undefined, new AudioClock())
    await player.start({ ...plan, hasSound: false })
    pass(5)
    expect(played()).toHaveLength(0)
    expect(clicks()).toHaveLength(8)
    stage.tones = []
    await player.start({ ...plan, hasClick: false, countIn: [] })
    pass(5)
    expect(clicks()).toHaveLength(0)
    expect(played()).toHaveLength(5)
  })

  it('is silent the moment it is stopped: what was put on the clock is taken off', async () => {
    const player = new Player(undefined, undefined, new AudioClock())
    await player.start({ ...plan, countIn: [] })
    pass(1.1)
    player.stop()
    expect(stage.tones.every((tone) => tone.end <= stage.now + 1e-9)).toBe(true)
    const before = stage.tones.length
    pass(3)
    expect(stage.tones).toHaveLength(before)
  })

  it('gives a note its written length and a stroke without pitch a short one', async () => {
    const player = new Player(undefined, undefined, new AudioClock())
    const stroke = { at: 0, duration: 4, midi: null, note: 's' }
    await player.start({ ...plan, notes: [stroke], countIn: [], hasClick: false })
    pass(1)
    const [struck] = stage.tones
    expect((struck?.end ?? 9) - (struck?.at ?? 0)).toBeLessThan(0.2)
    player.stop()
    stage.tones = []
    await player.start({ ...plan, countIn: [], hasClick: false })
    pass(4)
    const long = played().at(-1)
    expect((long?.end ?? 0) - (long?.at ?? 0)).toBeGreaterThan(0.9)
    expect((long?.end ?? 0) - (long?.at ?? 0)).toBeLessThan(1.1)
  })
})
