/**
 * The time of day at the school, as well as this device can tell it. Once it runs it never jumps:
 * whoever sets the device's clock in the middle of a count moves nothing. What the server says of
 * the time corrects a device that is wrong.
 */
const KEPT = 'crumb.clock'
/** Less than this the server puts up with; it may be the way there and back, not a wrong clock. */
const WRONG_MS = 120_000

export class SchoolClock {
  private base: number
  private steadyAt: number

  constructor(
    private readonly wall: () => number = Date.now,
    private readonly steady: () => number = () => performance.now(),
    private readonly kept: Pick<Storage, 'getItem' | 'setItem'> | null = storage(),
  ) {
    this.base = this.wall() + this.keptShift()
    this.steadyAt = this.steady()
  }

  /** Milliseconds since 1970. */
  now(): number {
    const steady = this.base + this.steady() - this.steadyAt
    // A device that slept did not count on; a clock that was set back is not followed.
    return Math.max(steady, this.wall() + this.keptShift())
  }

  /** What an answer of the server says of the time. */
  hear(date: string | null): void {
    const told = date === null ? Number.NaN : Date.parse(date)
    if (Number.isNaN(told)) return
    const off = told - this.now()
    if (Math.abs(off) < WRONG_MS) return
    this.base = told
    this.steadyAt = this.steady()
    this.shift = told - this.wall()
    this.keep()
  }

  private shift: number | null = null

  private keptShift(): number {
    if (this.shift !== null) return this.shift
    const kept = Number(this.kept?.getItem(KEPT) ?? 0)
    this.shift = Number.isFinite(kept) ? kept : 0
    return this.shift
  }

  private keep(): void {
    try {
      this.kept?.setItem(KEPT, String(this.shift ?? 0))
    } catch {
      // No room: it is asked for again next time.
    }
  }
}

function storage(): Storage | null {
  try {
    return window.localStorage
  } catch {
    return null
  }
}
