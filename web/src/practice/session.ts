/**
 * One drill being practised: what the student taps is counted here at once, by the climb's rule, and
 * put into the outbox. Knows nothing of the page that shows it.
 */
import { v7 } from 'uuid'
import { advance, isJump, type Climb, type ClimbPlan } from './climb'
import { nameOf, type Outbox, type Played, type Waiting } from './outbox'

const SLOWEST = 20
const FASTEST = 300

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

export interface Moment {
  climb: Climb
  /** What the student has set; the ladder's own tempo unless changed by hand. */
  tempo: number
  hasClick: boolean
  level: number
  /** Why rungs are left out, as the student said; asked for where they are. */
  reason: string
  played: { id: string; before: Climb }[]
  /** What the server kept but does not count, and why. */
  doubted: Doubted[]
}

export class PracticeSession {
  private moment: Moment
  /** What was counted here and not answered yet, by name. */
  private readonly open = new Set<string>()
  /** The server's count of this drill, as it last told it, and whether it counted otherwise. */
  private theirs: Climb
  private isOff = false
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
    this.moment = { climb, tempo: climb.tempo, hasClick: true, level, reason: '', played: [], doubted: [] }
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
    const { climb, tempo, hasClick, reason, played } = this.moment
    const at = this.now()
    const id = v7()
    const told = hasClick ? tempo : null
    const next = advance(this.plan, climb, { step: climb.step, tempo: told, isClean, at: at / 1000 })
    const isAttempt = next.told === 'attempt'
    this.become({
      climb: next,
      tempo: isAttempt ? tempo : next.tempo,
      reason: isAttempt ? reason : '',
      played: [...played, { id, before: climb }],
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
    })
  }

  undo(): void {
    const last = this.moment.played.at(-1)
    if (!last) return
    this.become({ climb: last.before, tempo: last.before.tempo, played: this.moment.played.slice(0, -1) })
    this.put({ kind: 'taken back', id: last.id })
  }

  nextStep(): void {
    const { climb } = this.moment
    this.become({ climb: { ...climb, step: (climb.step + 1) % this.plan.steps.length, inARow: 0, told: '' } })
  }

  changeTempo(by: number): void {
    this.become({ tempo: Math.min(FASTEST, Math.max(SLOWEST, this.moment.tempo + by)) })
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

  /** What the server said of a batch that was handed in. What it does not count is not counted here either. */
  heard(batch: Waiting[], answer: Answer): void {
    this.theirs = answer.climb ?? this.theirs
    this.isOff ||= answer.doubted.length > 0
    this.become({ level: answer.level ?? this.moment.level, doubted: [...this.moment.doubted, ...answer.doubted] })
    this.settle(batch)
  }

  /** The server will never take these: they are set aside, and not counted here either. */
  refused(batch: Waiting[]): void {
    this.isOff = true
    this.settle(batch)
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
