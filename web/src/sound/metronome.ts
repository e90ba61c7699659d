import { AudioClock, clock as pageClock } from './clock'
import type { Round, Sound } from './strokes'
import { playClick, type ClickSound } from './voices'

/** A metronome on the audio clock: each click is handed to the sound card with its exact time. */
export interface ClickPlan {
  /** Beats a minute. */
  tempo: number
  /** What a tempo counts, in quarter notes. */
  beat: number
  round: Round
  /** Where the count-in falls, in quarter notes before the music. */
  countIn: number[]
  /** From 0 to 1. */
  volume: number
}

/** Something that sounds, or is silent in its place: how many beats are still counted in, or none. */
export interface Beat {
  sound: Sound | 'count'
  left: number
  /** Quarter notes from where the music begins. */
  at: number
}

interface Coming {
  at: number
  beat: Beat
}

const SOUNDS: Record<Exclude<Sound, 'silent'> | 'count', ClickSound> = {
  count: 'high',
  first: 'accent',
  beat: 'plain',
  between: 'soft',
  off: 'off',
}
const START_SECONDS = 0.06
/** A page may be busy for so long before a click is late; what is handed over too early is taken back. */
const AHEAD_SECONDS = 0.45
/** What sounds this soon is not taken back any more. */
const GONE_SECONDS = 0.02
const REMEMBERED = 16

/** A click that the sound card has already, and what to go back to if it is taken from it. */
interface HandedOver {
  at: number
  coming: Coming
  place: number
  round: number
  tone: OscillatorNode | null
  timer: number
}

export class Metronome {
  private context: AudioContext | null = null
  private leave: (() => void) | null = null
  private plan: ClickPlan | null = null
  private coming: Coming | null = null
  private nextAt = 0
  private place = 0
  private round = 0
  private recent: number[] = []
  private ahead: HandedOver[] = []

  constructor(
    private readonly onBeat: (beat: Beat) => void = () => undefined,
    private readonly clock: AudioClock = pageClock,
  ) {}

  get isRunning(): boolean {
    return this.leave !== null
  }

  async start(plan: ClickPlan): Promise<void> {
    this.stop()
    this.context = await this.clock.wake()
    this.plan = plan
    this.place = -plan.countIn.length
    this.round = 0
    this.recent = []
    this.ahead = []
    this.coming = this.comingAt(plan)
    this.nextAt = this.context.currentTime + START_SECONDS
    // Without a count-in what begins off the beat waits for it.
    if (plan.countIn.length === 0) this.nextAt += this.seconds(plan, this.coming?.at ?? 0)
    this.leave = this.clock.follow(() => this.schedule())
  }

  /** A new tempo or way to click holds from the next click on. */
  change(plan: ClickPlan): void {
    const before = this.plan
    this.takeBack()
    this.plan = plan
    if (!before || before.round === plan.round || !this.coming || this.coming.beat.sound === 'count') return
    // Another way to click goes on where the old one is: the beats stay where they are.
    const from = this.coming.at
    this.place = 0
    this.round = Math.floor(from / plan.round.length)
    this.coming = this.comingAt(plan)
    while (this.coming && this.coming.at < from - 1e-9) {
      this.step(plan)
      this.coming = this.comingAt(plan)
    }
    this.nextAt += this.seconds(plan, (this.coming?.at ?? from) - from)
  }

  stop(): void {
    this.leave?.()
    this.leave = null
    this.takeBack()
  }

  /**
   * How far a tap is off the pulse, in beats, early ones below 0; null where no pulse is near.
   *
   * @param at the moment of the tap, as events tell it (milliseconds of the page).
   */
  offBy(at: number): number | null {
    const { context, plan } = this
    if (!context || !plan || !this.isRunning) return null
    const tapped = context.currentTime + (at - performance.now()) / 1000 - (context.outputLatency || 0)
    const beat = 60 / plan.tempo
    const off = this.recent.map((one) => (tapped - one) / beat)
    const nearest = off.sort((a, b) => Math.abs(a) - Math.abs(b))[0]
    return nearest === undefined || Math.abs(nearest) > 0.5 ? null : nearest
  }

  private seconds(plan: ClickPlan, quarters: number): number {
    return ((quarters / plan.beat) * 60) / plan.tempo
  }

  private comingAt(plan: ClickPlan): Coming | null {
    if (this.place < 0) {
      const at = plan.countIn[plan.countIn.length + this.place]
      return at === undefined ? null : { at, beat: { sound: 'count', left: -this.place, at } }
    }
    const stroke = plan.round.strokes[this.place]
    if (!stroke) return null
    const at = this.round * plan.round.length + stroke.at
    return { at, beat: { sound: stroke.sound, left: 0, at } }
  }

  private step(plan: ClickPlan): void {
    this.place += 1
    if (this.place >= plan.round.strokes.length) {
      this.place = 0
      this.round += 1
    }
  }

  private schedule(): void {
    const { context, plan } = this
    if (!context || !plan) return
    // A page that slept does not make up for lost clicks.
    if (this.nextAt < context.currentTime - 1) this.nextAt = context.currentTime + START_SECONDS
    this.ahead = this.ahead.filter((one) => one.at > context.currentTime)
    while (this.coming && this.nextAt < context.currentTime + AHEAD_SECONDS) {
      const here = this.coming
      this.handOver(context, here, plan.volume)
      this.step(plan)
      const next = this.comingAt(plan)
      if (next) this.nextAt += this.seconds(plan, next.at - here.at)
      this.coming = next
    }
  }

  private handOver(context: AudioContext, coming: Coming, volume: number): void {
    const { beat } = coming
    const at = this.nextAt
    const tone =
      beat.sound === 'silent'
        ? null
        : playClick(context, context.destination, { at, sound: SOUNDS[beat.sound], volume })
    const timer = window.setTimeout(() => this.onBeat(beat), Math.max(0, (at - context.currentTime) * 1000))
    this.recent = [...this.recent, at].slice(-REMEMBERED)
    this.ahead.push({ at, coming, place: this.place, round: this.round, tone, timer })
  }

  /** Take back what has not sounded yet, and go on from there. */
  private takeBack(): void {
    const now = this.context?.currentTime ?? 0
    const back = this.ahead.filter((one) => one.at > now + GONE_SECONDS)
    this.ahead = []
    for (const { tone, timer } of back) {
      tone?.stop()
      tone?.disconnect()
      window.clearTimeout(timer)
    }
    const first = back[0]
    if (!first) return
    this.recent = this.recent.filter((at) => at < first.at)
    this.coming = first.coming
    this.place = first.place
    this.round = first.round
    this.nextAt = first.at
  }
}
