import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { clearStage, pass, setStage, stage } from '../testing/sounds'
import { AudioClock } from './clock'
import { Metronome } from './metronome'
import { Player } from './player'

beforeEach(setStage)
afterEach(clearStage)

describe('the one clock of the page', () => {
  it('keeps a metronome and a player together on one sound card', async () => {
    const clock = new AudioClock()
    const metronome = new Metronome(undefined, clock)
    const player = new Player(undefined, undefined, clock)
    await metronome.start({
      tempo: 60,
      beat: 1,
      round: { strokes: [{ at: 0, sound: 'beat' }], length: 1 },
      countIn: [],
      volume: 0.5,
    })
    await player.start({
      notes: [{ at: 0, duration: 1, midi: 60, note: 'a' }],
      quarters: 1,
      beat: 1,
      click: 0,
      clickAt: 0,
      clicks: [],
      tempo: 60,
      countIn: [],
      isLoop: false,
      hasClick: false,
      hasSound: true,
      family: 'flute',
    })
    pass(0.5)
    expect(stage.tones.some((tone) => tone.isPlayed)).toBe(true)
    metronome.stop()
    const before = stage.tones.length
    expect(player.isRunning).toBe(true)
    pass(5)
    expect(player.isRunning).toBe(false)
    expect(stage.tones.filter((tone) => !tone.isPlayed).length).toBeLessThanOrEqual(before)
  })

  it('is still once nobody follows it', () => {
    const clock = new AudioClock()
    let asked = 0
    const leave = clock.follow(() => (asked += 1))
    pass(0.2)
    leave()
    const before = asked
    pass(0.2)
    expect(before).toBeGreaterThan(2)
    expect(asked).toBe(before)
  })
})
