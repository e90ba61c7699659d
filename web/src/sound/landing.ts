/**
 * Hears when a repetition is over: sound, then silence for a while. Only how loud it is counts; nothing
 * is kept and nothing is recorded.
 */
const QUIET_SECONDS = 0.7
const LEAST_SECONDS = 0.5
/** So much louder than the room. */
const OVER_ROOM = 4
const LEAST_LOUD = 0.012

export class LandingDetector {
  private room = 0.003
  private soundSince: number | null = null
  private lastSound = 0

  /**
   * @param loudness root mean square of the last moment, 0 to 1
   * @param at seconds
   * @returns whether a repetition has just ended
   */
  hear(loudness: number, at: number): boolean {
    const isSound = loudness > Math.max(this.room * OVER_ROOM, LEAST_LOUD)
    if (isSound) {
      this.soundSince ??= at
      this.lastSound = at
      return false
    }
    // The room itself is learned while nothing sounds.
    this.room = this.room * 0.95 + Math.min(loudness, 0.05) * 0.05
    if (this.soundSince === null || at - this.lastSound < QUIET_SECONDS) return false
    const wasLong = this.lastSound - this.soundSince >= LEAST_SECONDS
    this.soundSince = null
    return wasLong
  }
}

const EVERY_MS = 50

/** Listen to the microphone; the returned function ends that. Throws where it is not allowed. */
export async function listenForLandings(onLanding: () => void): Promise<() => void> {
  const stream = await navigator.mediaDevices.getUserMedia({
    audio: { echoCancellation: true, noiseSuppression: false },
  })
  const context = new AudioContext()
  const ear = context.createAnalyser()
  ear.fftSize = 2048
  context.createMediaStreamSource(stream).connect(ear)
  const samples = new Float32Array(ear.fftSize)
  const detector = new LandingDetector()
  const timer = window.setInterval(() => {
    ear.getFloatTimeDomainData(samples)
    const power = samples.reduce((sum, one) => sum + one * one, 0) / samples.length
    if (detector.hear(Math.sqrt(power), context.currentTime)) onLanding()
  }, EVERY_MS)
  return () => {
    window.clearInterval(timer)
    stream.getTracks().forEach((track) => track.stop())
    void context.close()
  }
}
