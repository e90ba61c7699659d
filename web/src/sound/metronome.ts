import { AudioClock, clock as pageClock, LOOK_AHEAD_SECONDS } from './clock'

/** A metronome on the audio clock: each click is handed to the sound card with its exact time. */
export interface ClickPlan {
  /** Beats a minute. */
  tempo: number
  /** Seconds between clicks are click / beat * 60 / tempo; both in quarter notes. */
  beat: number
  click: number
  /** Where in each round of clicks the sound falls, in quarter notes: 0 on the beat. */
  clickAt: number
  /** Where each click of a round falls, if they are not equally far apart, and how long it is. */
  clicks: number[]
  quarters: number
  /** The beats counted in, in quarter notes. */
  countIn: number[]
  /** Sound between the beats instead of on them (after the count-in). */
  isOffBeat: boolean
}

/** Quarter notes from one click to the next; those of the count-in are numbered up to -1. */
function lengthOf(plan: ClickPlan, count: number): number {
  if (count < 0) return plan.countIn[plan.countIn.length + count] ?? plan.beat
  if (plan.clicks.length === 0) return plan.click
  const place = count % plan.clicks.length
  const here = plan.clicks[place] ?? 0
  return (plan.clicks[place + 1] ?? plan.quarters + (plan.clicks[0] ?? 0)) - here
}

export class Metronome {
  private context: AudioContext | null = null
  private leave: (() => void) | null = null
  private plan: ClickPlan | null = null
  private next = 0
  private count = 0

  constructor(
    private readonly onBeat: (count: number) => void = () => undefined,
    private readonly clock: AudioClock = pageClock,
  ) {}

  get isRunning(): boolean {
    return this.leave !== null
  }

  async start(plan: ClickPlan): Promise<void> {
    this.stop()
    this.context = await this.clock.wake()
    this.plan = plan
    this.count = -plan.countIn.length
    this.next = this.context.currentTime + 0.06
    this.leave = this.clock.follow(() => this.schedule())
  }

  /** A new tempo holds from the next click on. */
  change(plan: ClickPlan): void {
    this.plan = plan
  }

  stop(): void {
    this.leave?.()
    this.leave = null
  }

  private schedule(): void {
    const { context, plan } = this
    if (!context || !plan) return
    // A page that slept does not make up for lost clicks.
    if (this.next < context.currentTime - 1) this.next = context.currentTime + 0.06
    while (this.next < context.currentTime + LOOK_AHEAD_SECONDS) {
      const isCountIn = this.count < 0
      const seconds = (lengthOf(plan, this.count) / plan.beat) * (60 / plan.tempo)
      const later = isCountIn ? 0 : (plan.clickAt / plan.beat) * (60 / plan.tempo) + (plan.isOffBeat ? seconds / 2 : 0)
      const at = this.next + later
      this.sound(context, at, isCountIn ? 1320 : 880)
      const count = this.count
      window.setTimeout(() => this.onBeat(count), Math.max(0, (at - context.currentTime) * 1000))
      this.next += seconds
      this.count += 1
    }
  }

  private sound(context: AudioContext, at: number, pitch: number): void {
    const tone = context.createOscillator()
    const loudness = context.createGain()
    tone.frequency.value = pitch
    tone.type = 'triangle'
    loudness.gain.setValueAtTime(0.0001, at)
    loudness.gain.exponentialRampToValueAtTime(0.35, at + 0.002)
    loudness.gain.exponentialRampToValueAtTime(0.0001, at + 0.06)
    tone.connect(loudness).connect(context.destination)
    tone.start(at)
    tone.stop(at + 0.08)
  }
}
