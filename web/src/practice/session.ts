/**
 * One drill being practised: what the student taps is counted here at once, by the climb's rule, and
 * put into the outbox. Knows nothing of the page that shows it.
 */
import { v7 } from 'uuid'
import type { PositionOut, SlipKind } from '../api/gen'
import { advance, isJump, type Climb, type ClimbPlan } from './climb'
import { nameOf, type Outbox, type Played, type Waiting } from './outbox'

const SLOWEST = 20
const FASTEST = 300
/** A ladder that came down this often from one tempo has stalled there. */
const STALLED = 2

export interface Doubted {
  id: string
  say: string
}

/** An answer, as far as it is about this drill. */
export interface Answer {
  level?: number
  climb?: Climb
  doubted: Doubted[]
}

interface Tap {
  id: string
  isClean: boolean
  before: Climb
}

export interface Moment {
  climb: Climb
  /** What the student has set; the ladder's own tempo unless changed by hand. */
  tempo: number
  hasClick: boolean
  level: number
  /** Why rungs are left out, as the student said; asked for where they are. */
  reason: string
  played: Tap[]
  /** What the server kept but does not count, and why. */
  doubted: Doubted[]
  /** Whether somebody else ticks; kept apart from one's own count. */
  isHelper: boolean
  /** How many of what was played here a helper ticked. */
  byHelper: number
  /** The tempo at which the ladder stalled in this session, if it did. */
  stalledAt: number | null
  /** What was told of the last slip. */
  slip: SlipDetail
}

export interface SlipDetail {
  at: PositionOut | null
  what: SlipKind | null
  /** It belongs to another layer: the repetition was let go and moved nothing. */
  isLetGo: boolean
}

const NO_DETAIL: SlipDetail = { at: null, what: null, isLetGo: false }

export class PracticeSession {
  private moment: Moment
  /** What was counted here and not answered yet, by name. */
  private readonly open = new Set<string>()
  /** The server's count of this drill, as it last told it, and whether it counted otherwise. */
  private theirs: Climb
  private isOff = false
  private readonly cameDown = new Map<number, number>()
  private readonly watchers = new Set<() => void>()

  constructor(
    private readonly itemId: string,
    private readonly plan: ClimbPlan,
    start: Climb,
    level: number,
    private readonly handOver: (entry: Waiting) => void,
    private readonly now: () => number = Date.now,
  ) {
    this.theirs = start
    const climb: Climb = { ...start, told: '' }
    this.moment = {
      climb,
      tempo: climb.tempo,
      hasClick: true,
      level,
      reason: '',
      played: [],
      doubted: [],
      isHelper: false,
      byHelper: 0,
      stalledAt: null,
      slip: NO_DETAIL,
    }
  }

  readonly watch = (onChange: () => void): (() => void) => {
    this.watchers.add(onChange)
    return () => this.watchers.delete(onChange)
  }

  readonly snapshot = (): Moment => this.moment

  /** Whether the tempo that is set leaves out rungs: a reason is asked for then. */
  get isJump(): boolean {
    return isJump(this.plan, this.moment.climb, this.moment.tempo)
  }

  /** What an earlier visit could not hand in yet was played all the same. */
  async takeUp(outbox: Outbox): Promise<void> {
    const waiting = await outbox.waiting()
    waiting.forEach((entry) => this.open.add(nameOf(entry)))
    if (this.moment.played.length > 0) return
    const mine = waiting.filter((entry): entry is Played => entry.kind === 'played' && entry.item_id === this.itemId)
    const gone = new Set(waiting.filter((entry) => entry.kind === 'taken back').map((entry) => entry.id))
    const climb = mine
      .filter((entry) => !gone.has(entry.id))
      .reduce(
        (state, r) =>
          advance(this.plan, state, {
            step: r.step,
            tempo: r.tempo_bpm,
            isClean: r.is_clean,
            at: Date.parse(r.played_at) / 1000,
          }),
        this.moment.climb,
      )
    if (mine.length === 0) return
    // The server may have counted some of it already, its answer lost on the way: its count decides.
    this.isOff = true
    this.become({ climb, tempo: climb.tempo })
  }

  play(isClean: boolean): void {
    this.closeSlip()
    const { climb, tempo, hasClick, reason, played, isHelper, byHelper } = this.moment
    const at = this.now()
    const id = v7()
    const told = hasClick ? tempo : null
    const next = advance(this.plan, climb, { step: climb.step, tempo: told, isClean, at: at / 1000 })
    const isAttempt = next.told === 'attempt'
    this.become({
      climb: next,
      tempo: isAttempt ? tempo : next.tempo,
      reason: isAttempt ? reason : '',
      played: [...played, { id, isClean, before: climb }],
      byHelper: byHelper + (isHelper ? 1 : 0),
      stalledAt: this.stalled(next, tempo),
      slip: NO_DETAIL,
    })
    this.put({
      kind: 'played',
      id,
      item_id: this.itemId,
      step: climb.step,
      tempo_bpm: told,
      is_clean: isClean,
      played_at: new Date(at).toISOString(),
      ...(isAttempt && reason ? { reason } : {}),
      ...(isHelper ? { source: 'helper' as const } : {}),
    })
  }

  undo(): void {
    const last = this.moment.played.at(-1)
    if (!last) return
    this.become({ slip: NO_DETAIL })
    this.takeBack(last)
  }

  /**
   * Where the last slip fell, and what it was; it can be put right until one goes on. A kind that is not
   * judged here is let go.
   */
  tellSlip(told: Partial<Pick<SlipDetail, 'at' | 'what'>>, isJudged = true): void {
    const last = this.moment.played.at(-1)
    if (!last || last.isClean) return
    if (!isJudged) {
      this.takeBack(last)
      this.become({ slip: { at: null, what: told.what ?? null, isLetGo: true } })
      return
    }
    this.become({ slip: { ...this.moment.slip, ...told } })
  }

  /** What was told of the last slip stands from here on. */
  closeSlip(): void {
    const { slip, played } = this.moment
    const last = played.at(-1)
    if (!last || (slip.at === null && slip.what === null) || slip.isLetGo) return
    this.become({ slip: NO_DETAIL })
    this.putSlip(last.id, slip.at, slip.what)
  }

  /** Once through without stopping: one repetition, and every note where it slipped. */
  playThrough(slips: PositionOut[], untold = 0): void {
    this.play(slips.length + untold === 0)
    const last = this.moment.played.at(-1)
    if (last) slips.forEach((at) => this.putSlip(last.id, at, null))
  }

  private putSlip(repetition: string, at: PositionOut | null, what: SlipKind | null): void {
    const id = v7()
    this.put({ kind: 'slip told', id, slip: { id, repetition_id: repetition, at, what } })
  }

  nextStep(): void {
    const { climb } = this.moment
    this.closeSlip()
    this.become({ climb: { ...climb, step: (climb.step + 1) % this.plan.steps.length, inARow: 0, told: '' } })
  }

  changeTempo(by: number): void {
    this.setTempo(this.moment.tempo + by)
  }

  setTempo(tempo: number): void {
    this.become({ tempo: Math.min(FASTEST, Math.max(SLOWEST, Math.round(tempo * 10) / 10)) })
  }

  backToLadder(): void {
    this.become({ tempo: this.moment.climb.tempo, reason: '' })
  }

  say(reason: string): void {
    this.become({ reason })
  }

  useClick(hasClick: boolean): void {
    this.become({ hasClick })
  }

  useHelper(isHelper: boolean): void {
    this.become({ isHelper })
  }

  /** What the server said of a batch that was handed in. What it does not count is not counted here either. */
  heard(batch: Waiting[], answer: Answer): void {
    this.theirs = answer.climb ?? this.theirs
    this.isOff ||= answer.doubted.length > 0
    this.become({ level: answer.level ?? this.moment.level, doubted: [...this.moment.doubted, ...answer.doubted] })
    this.settle(batch)
  }

  /** The server will never take these: they are set aside, and not counted here either. */
  refused(batch: Waiting[]): void {
    this.isOff ||= batch.some((entry) => entry.kind === 'played' || entry.kind === 'taken back')
    this.settle(batch)
  }

  private takeBack(last: Tap): void {
    this.become({
      climb: last.before,
      tempo: last.before.tempo,
      played: this.moment.played.slice(0, -1),
      stalledAt: null,
    })
    this.put({ kind: 'taken back', id: last.id })
  }

  private stalled(next: Climb, tempo: number): number | null {
    if (next.told === 'finished' || next.told === 'up') return null
    if (next.told !== 'down') return this.moment.stalledAt
    const times = (this.cameDown.get(tempo) ?? 0) + 1
    this.cameDown.set(tempo, times)
    return times >= STALLED ? tempo : this.moment.stalledAt
  }

  private settle(batch: Waiting[]): void {
    batch.forEach((entry) => this.open.delete(nameOf(entry)))
    // Taps it has not seen yet would be lost from sight; it comes to them.
    if (!this.isOff || this.open.size > 0) return
    this.isOff = false
    this.become({ climb: { ...this.theirs, told: '' }, tempo: this.theirs.tempo, played: [] })
  }

  private put(entry: Waiting): void {
    this.open.add(nameOf(entry))
    this.handOver(entry)
  }

  private become(change: Partial<Moment>): void {
    this.moment = { ...this.moment, ...change }
    this.watchers.forEach((watcher) => watcher())
  }
}
