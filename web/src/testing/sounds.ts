/** The audio clock for tests, and what was put on it; time passes as the test says. */
import { vi } from 'vitest'

export interface Tone {
  at: number
  pitch: number
  /** When it ends; moved to now when it is stopped early. */
  end: number
  isPlayed: boolean
}

export const stage = { tones: [] as Tone[], now: 0 }

class Sounds {
  destination = {}
  get currentTime() {
    return stage.now
  }
  async resume() {}
  createPeriodicWave() {
    return {}
  }
  createOscillator() {
    const made: Tone = { at: 0, pitch: 0, end: Infinity, isPlayed: false }
    const tone = {
      frequency: { value: 0 },
      type: '',
      connect: (next: unknown) => next,
      disconnect: () => {
        stage.tones = stage.tones.filter((one) => one !== made)
      },
      setPeriodicWave: () => {
        made.isPlayed = true
      },
      start: (at: number) => {
        made.at = at
        made.pitch = tone.frequency.value
        stage.tones.push(made)
      },
      stop: (at?: number) => {
        made.end = Math.min(made.end, at ?? stage.now)
      },
    }
    return tone
  }
  createGain() {
    const gain = { setValueAtTime: () => undefined, exponentialRampToValueAtTime: () => undefined }
    return { gain, connect: (next: unknown) => next, disconnect: () => undefined }
  }
}

export function setStage(): void {
  stage.tones = []
  stage.now = 0
  vi.useFakeTimers()
  vi.stubGlobal('AudioContext', Sounds)
  vi.stubGlobal('window', globalThis)
}

export function clearStage(): void {
  vi.useRealTimers()
  vi.unstubAllGlobals()
}

/** Both clocks go on together, in the steps of the page's timer. */
export function pass(seconds: number): void {
  for (let i = 0; i < Math.round(seconds * 40); i += 1) {
    stage.now += 0.025
    vi.advanceTimersByTime(25)
  }
}

/** Seconds from tone to tone, rounded to the nanosecond. */
export function gaps(tones: readonly Tone[] = stage.tones): number[] {
  return tones.slice(1).map((tone, i) => Number((tone.at - (tones[i]?.at ?? 0)).toFixed(9)))
}
