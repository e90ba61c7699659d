import { describe, expect, it } from 'vitest'
import { LandingDetector } from './landing'

/** Loudness every twentieth of a second; how often a landing was heard. */
function landings(...stretches: [seconds: number, loudness: number][]): number {
  const detector = new LandingDetector()
  let at = 0
  let heard = 0
  for (const [seconds, loudness] of stretches) {
    for (let i = 0; i < Math.round(seconds * 20); i++) {
      at += 0.05
      if (detector.hear(loudness, at)) heard += 1
    }
  }
  return heard
}

describe('the end of a repetition', () => {
  it('is silence after sound, once', () => {
    expect(landings([1, 0.002], [3, 0.2], [4, 0.002])).toBe(1)
    expect(landings([1, 0.002], [3, 0.2], [1, 0.002], [3, 0.2], [1, 0.002])).toBe(2)
  })

  it('is no short rest in the music', () => {
    expect(landings([2, 0.2], [0.4, 0.002], [2, 0.2], [1, 0.002])).toBe(1)
  })

  it('is no cough, no click and no silence alone', () => {
    expect(landings([1, 0.002], [0.2, 0.4], [2, 0.002])).toBe(0)
    expect(landings([10, 0.002])).toBe(0)
  })

  it('is heard in a humming room as well', () => {
    expect(landings([8, 0.009], [3, 0.3], [2, 0.009])).toBe(1)
  })
})
