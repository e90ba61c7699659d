/**
 * Plays notation on the audio clock. Time is kept in quarter notes; seconds are worked out anew at
 * each loop and each change of tempo.
 */
import { AudioClock, clock as pageClock, LOOK_AHEAD_SECONDS } from './clock'
import { playClick, playNote, playStroke, voiceOf } from './voices'

export interface PlayedNote {
  at: number
  duration: number
  midi: number | null
  note: string
  /** Whose sound it has; nothing said: that of the plan. */
  family?: string
}

export interface PlayPlan {
  notes: PlayedNote[]
  /** Whole length, and one beat, in quarter notes. */
  quarters: number
  beat: number
  /** Quarter notes between clicks (0: none) and where the first one falls. */
  click: number
  clickAt: number
  /** Where each click falls, if they are not equally far apart. */
  clicks: number[]
  /** Beats a minute. */
  tempo: number
  /** The beats counted in, in quarter notes. */
  countIn: number[]
  isLoop: boolean
  hasClick: boolean
  hasSound: boolean
  family: string
}

/** Silence between two rounds of a loop, in beats: room for a breath. */
export const BREATH_BEATS = 2
const START_SECONDS = 0.08

interface Coming {
  /** Quarter notes from the start of the round; below 0 in the count-in. */
  at: number
  kind: 'click' | 'high click' | 'note'
  note?: PlayedNote
}

/** Where the count-in falls, before the first beat: what starts off the beat waits for its place. */
function countInOf(plan: PlayPlan): number[] {
  const found: number[] = []
  let at = plan.clicks[0] ?? 0
  for (const beat of [...plan.countIn].reverse()) {
    at -= beat
    if (at < 0) found.unshift(at)
  }
  return found
}

/** Everything that happens in one round, in order. */
export function comingOf(plan: PlayPlan, isFirstRound: boolean): Coming[] {
  const list: Coming[] = []
  if (isFirstRound) {
    for (const at of countInOf(plan)) list.push({ at, kind: 'high click' })
  }
  if (plan.hasClick && plan.clicks.length > 0) {
    for (const at of plan.clicks) list.push({ at, kind: 'click' })
  } else if (plan.hasClick && plan.click > 0) {
    for (let i = 0; plan.clickAt + i * plan.click < plan.quarters; i++)
      list.push({ at: plan.clickAt + i * plan.click, kind: 'click' })
  }
  for (const note of plan.notes) list.push({ at: note.at, kind: 'note', note })
  return list.sort((a, b) => a.at - b.at)
}

export class Player {
  private context: AudioContext | null = null
  private out: GainNode | null = null
  private leave: (() => void) | null = null
  private plan: PlayPlan | null = null
  private coming: Coming[] = []
  private place = 0
  /** At this time of the audio clock the round stands at this quarter note. */
  private anchor = { seconds: 0, quarter: 0 }
  private sounding: OscillatorNode[] = []

  constructor(
    private readonly onNote: (id: string | null) => void = () => undefined,
    private readonly onEnd: () => void = () => undefined,
    private readonly clock: AudioClock = pageClock,
  ) {}

  get isRunning(): boolean {
    return this.leave !== null
  }

  async start(plan: PlayPlan): Promise<void> {
    this.stop()
    this.context = await this.clock.wake()
    this.out = this.context.createGain()
    this.out.connect(this.context.destination)
    this.plan = plan
    this.coming = comingOf(plan, true)
    this.place = 0
    this.anchor = { seconds: this.context.currentTime + START_SECONDS, quarter: Math.min(0, countInOf(plan)[0] ?? 0) }
    this.leave = this.clock.follow(() => this.schedule())
  }

  /** Another tempo, or click and sound on or off: holds from here on, without starting again. */
  change(plan: PlayPlan): void {
    if (!this.plan || !this.context) return
    if (plan.notes !== this.plan.notes) return
    const now = this.context.currentTime
    this.anchor = { seconds: now, quarter: this.quarterAt(now) }
    const last = this.coming[this.place - 1]?.at ?? Number.NEGATIVE_INFINITY
    this.plan = plan
    this.coming = comingOf(plan, this.anchor.quarter < 0).filter((one) => one.at > last)
    this.place = 0
  }

  stop(): void {
    this.leave?.()
    this.leave = null
    for (const tone of this.sounding) {
      try {
        tone.stop()
      } catch {
        // It had ended already.
      }
    }
    this.sounding = []
    this.out?.disconnect()
    this.onNote(null)
  }

  private secondsOf(quarters: number): number {
    const plan = this.plan
    return plan ? ((quarters / plan.beat) * 60) / plan.tempo : 0
  }

  private quarterAt(seconds: number): number {
    const plan = this.plan
    if (!plan) return 0
    return this.anchor.quarter + (((seconds - this.anchor.seconds) * plan.tempo) / 60) * plan.beat
  }

  private timeOf(quarter: number): number {
    return this.anchor.seconds + this.secondsOf(quarter - this.anchor.quarter)
  }

  private schedule(): void {
    const { context, plan } = this
    if (!context || !plan || !this.out) return
    const until = context.currentTime + LOOK_AHEAD_SECONDS
    for (;;) {
      const next = this.coming[this.place]
      if (!next) {
        if (!this.nextRound(until)) return
        continue
      }
      const at = this.timeOf(next.at)
      if (at > until) return
      this.sound(context, this.out, plan, next, Math.max(at, context.currentTime))
      this.place += 1
    }
  }

  /** After the last note: another round, or the end. True if there is more to look at now. */
  private nextRound(until: number): boolean {
    const { context, plan } = this
    if (!context || !plan) return false
    const breath = plan.isLoop ? BREATH_BEATS * plan.beat : 0
    const end = this.timeOf(plan.quarters + breath)
    if (!plan.isLoop) {
      if (context.currentTime >= end) {
        this.stop()
        this.onEnd()
      }
      return false
    }
    if (end > until) return false
    this.anchor = { seconds: end, quarter: 0 }
    this.coming = comingOf(plan, false)
    this.place = 0
    this.sounding = []
    return this.coming.length > 0
  }

  private sound(context: AudioContext, out: AudioNode, plan: PlayPlan, one: Coming, at: number): void {
    if (one.kind !== 'note') {
      this.sounding.push(playClick(context, out, { at, sound: one.kind === 'high click' ? 'high' : 'plain' }))
      return
    }
    const note = one.note
    if (!note) return
    if (plan.hasSound) {
      const seconds = this.secondsOf(note.duration)
      this.sounding.push(
        note.midi === null
          ? playStroke(context, out, at)
          : playNote(context, out, voiceOf(note.family ?? plan.family), { midi: note.midi, at, seconds }),
      )
    }
    window.setTimeout(
      () => this.leave !== null && this.onNote(note.note),
      Math.max(0, (at - context.currentTime) * 1000),
    )
  }
}
