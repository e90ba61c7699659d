/**
 * What a student hands in, on its way: put into the outbox at once, sent whenever there is a network, and
 * what the server says of it told to whoever listens. One for the whole page; it knows no React.
 */
import type { HandedIn, RepetitionsIn } from '../api/gen'
import { handedIn, Outbox, type Refused, type Sent, type Waiting } from './outbox'

export interface SyncState {
  unsent: number
  refused: Refused[]
  /** Something waits that this device could not keep: it lives as long as the page. */
  isMemoryOnly: boolean
  /** How sending ended the last time. */
  sent: Sent
}

export interface Listener {
  answered?: (batch: Waiting[], answer: HandedIn) => void
  refused?: (batch: Waiting[]) => void
}

const EVERY_MS = 5_000

export class SyncQueue {
  readonly outbox: Outbox
  private state: SyncState = { unsent: 0, refused: [], isMemoryOnly: false, sent: 'all' }
  private readonly watchers = new Set<() => void>()
  private readonly listeners = new Set<Listener>()
  private putting: Promise<unknown> = Promise.resolve()

  constructor(
    key: string,
    private readonly send: (body: RepetitionsIn) => Promise<HandedIn>,
  ) {
    this.outbox = new Outbox(
      key,
      async (batch) => {
        const answer = await this.send(handedIn(batch))
        this.listeners.forEach((one) => one.answered?.(batch, answer))
      },
      Date.now,
      (batch) => this.listeners.forEach((one) => one.refused?.(batch)),
    )
  }

  readonly watch = (onChange: () => void): (() => void) => {
    this.watchers.add(onChange)
    return () => this.watchers.delete(onChange)
  }

  readonly snapshot = (): SyncState => this.state

  listen(listener: Listener): () => void {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  /** Kept at once, in the order of putting; sent as soon as that goes. */
  put(entry: Waiting): void {
    // Begun now and not in its turn: a page that closes waits for nothing.
    const kept = this.outbox.add(entry)
    this.putting = Promise.all([this.putting, kept])
      .then(() => this.look())
      .then(() => this.flush())
  }

  async flush(): Promise<void> {
    const sent = await this.outbox.flush().catch((): Sent => 'away')
    await this.look(sent)
  }

  async forgetRefused(): Promise<void> {
    await this.outbox.forgetRefused()
    await this.look()
  }

  /** Send again and again, and whenever a network comes; the returned function ends that. */
  start(): () => void {
    const flush = () => void this.flush()
    flush()
    window.addEventListener('online', flush)
    const timer = window.setInterval(flush, EVERY_MS)
    return () => {
      window.removeEventListener('online', flush)
      window.clearInterval(timer)
    }
  }

  private async look(sent: Sent = this.state.sent): Promise<void> {
    const [waiting, refused] = await Promise.all([this.outbox.waiting(), this.outbox.refused()])
    const next = { unsent: waiting.length, refused, isMemoryOnly: this.outbox.isMemoryOnly, sent }
    const before = this.state
    const isSame =
      next.unsent === before.unsent &&
      next.refused.length === before.refused.length &&
      next.isMemoryOnly === before.isMemoryOnly &&
      next.sent === before.sent
    if (isSame) return
    this.state = next
    this.watchers.forEach((watcher) => watcher())
  }
}
