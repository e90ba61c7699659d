/**
 * Time that is practised. It runs while something happens (a click, a count, a note heard) and stops by
 * itself when nothing does for a while: a phone left on a stand is not practice.
 */
const IDLE_MS = 90_000
/** Less than this is no practice and no line in a diary. */
const LEAST_SECONDS = 5

export class Stopwatch {
  private spent = 0
  private since: number | null = null
  private lastSign = 0
  private reported = 0

  constructor(private readonly now: () => number = () => performance.now()) {}

  /** Something happens. */
  sign(): void {
    const now = this.now()
    if (this.since !== null && now - this.lastSign > IDLE_MS) this.stopAt(this.lastSign + IDLE_MS)
    this.since ??= now
    this.lastSign = now
  }

  /** Nothing more comes now. */
  stop(): void {
    this.stopAt(Math.min(this.now(), this.lastSign + IDLE_MS))
  }

  /** All of it. */
  get seconds(): number {
    if (this.since === null) return this.spent / 1000
    const until = Math.min(this.now(), this.lastSign + IDLE_MS)
    return (this.spent + Math.max(until - this.since, 0)) / 1000
  }

  /** What was not reported yet, in whole seconds; 0 while that is too little to tell. */
  report(): number {
    const whole = Math.floor(this.seconds - this.reported)
    if (whole < LEAST_SECONDS) return 0
    this.reported += whole
    return whole
  }

  private stopAt(at: number): void {
    if (this.since === null) return
    this.spent += Math.max(at - this.since, 0)
    this.since = null
  }
}
