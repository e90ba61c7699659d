/**
 * The one audio clock of the page: a metronome and a player on it keep the same time. While anything
 * runs, a 25 ms timer asks each what is to sound in the next tenth of a second, so that a busy page
 * does not move a beat.
 */
const TIMER_MS = 25
export const LOOK_AHEAD_SECONDS = 0.1

export class AudioClock {
  private context: AudioContext | null = null
  private timer: number | null = null
  private readonly asked = new Set<() => void>()

  /** The sound card, woken: browsers let it sound only after somebody touched the page. */
  async wake(): Promise<AudioContext> {
    this.context ??= new AudioContext()
    await this.context.resume()
    return this.context
  }

  /** Ask again and again what comes next; the returned function ends that. */
  follow(whatComes: () => void): () => void {
    const one = () => whatComes()
    this.asked.add(one)
    this.timer ??= window.setInterval(() => this.asked.forEach((ask) => ask()), TIMER_MS)
    whatComes()
    return () => {
      this.asked.delete(one)
      if (this.asked.size > 0 || this.timer === null) return
      window.clearInterval(this.timer)
      this.timer = null
    }
  }
}

/** The page's own. */
export const clock = new AudioClock()
