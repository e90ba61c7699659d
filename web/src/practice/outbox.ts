/**
 * What was played and said waits here until the server has it: kept in the browser's own database, so
 * that a closed page or a lost network loses nothing. Ids are made here, so sending twice is harmless.
 *
 * Where the database will not take it (no room, a private window), it waits in memory, and the page
 * says so: then it lives as long as the page does.
 */
import { get, update } from 'idb-keyval'
import { ApiError } from '../api/ask'
import type { RepetitionsIn } from '../api/gen'
import { WriteAhead } from './writeAhead'

export interface Played {
  kind: 'played'
  id: string
  item_id: string
  step: number
  /** Null without a click. */
  tempo_bpm: number | null
  is_clean: boolean
  played_at: string
  /** Why rungs were left out, if they were. */
  reason?: string
  /** A parent or friend may tick; nothing said: the student's own count. */
  source?: 'self' | 'helper'
}

export interface TakenBack {
  kind: 'taken back'
  id: string
}

/** Where a slip fell, and what it was. */
export interface SlipTold {
  kind: 'slip told'
  id: string
  slip: NonNullable<RepetitionsIn['slips']>[number]
}

/** A line of the diary. */
export interface LineSaid {
  kind: 'line'
  id: string
  line: NonNullable<RepetitionsIn['lines']>[number]
}

export type Waiting = Played | TakenBack | SlipTold | LineSaid

/** Something the server refused for good, and what it said. */
export interface Refused {
  entry: Waiting
  said: string
}

/** How sending ended: all is there; no network or a busy server; nobody is signed in any more. */
export type Sent = 'all' | 'away' | 'signed out'

const BATCH = 200
const LONGEST_WAIT_SECONDS = 60

export class Outbox {
  private sending: Promise<Sent> | null = null
  private notBefore = 0
  /** What the browser would not keep. */
  private inMemory: Waiting[] = []
  private readonly ahead: WriteAhead<Waiting>

  /** One outbox per person: a shared tablet never mixes up two students. */
  constructor(
    private readonly key: string,
    private readonly send: (batch: Waiting[]) => Promise<unknown>,
    private readonly now: () => number = Date.now,
    private readonly onRefused: (entries: Waiting[]) => void = () => undefined,
  ) {
    this.ahead = new WriteAhead(`${key} ahead`)
  }

  /** Whether something waits that this device could not keep: it lives as long as the page. */
  get isMemoryOnly(): boolean {
    return this.inMemory.length > 0
  }

  async add(entry: Waiting): Promise<void> {
    const isNoted = this.ahead.note(entry)
    if (await this.store([entry])) this.ahead.done(entry)
    else if (!isNoted) this.inMemory.push(entry)
  }

  async waiting(): Promise<Waiting[]> {
    const kept = await this.keptAt<Waiting>(this.key)
    const there = new Set(kept.map(nameOf))
    return [...kept, ...this.ahead.left().filter((entry) => !there.has(nameOf(entry))), ...this.inMemory]
  }

  /** What the server refused for good: kept apart, so that it never blocks the rest. */
  async refused(): Promise<Refused[]> {
    const list = await this.keptAt<Refused | Waiting>(this.refusedKey)
    // A list from before refusals were told holds the entries alone.
    return list.map((one) => ('entry' in one ? one : { entry: one, said: '' }))
  }

  /** The student has seen what was refused, and lets go of it. */
  async forgetRefused(): Promise<void> {
    await update(this.refusedKey, () => [])
  }

  /** Send what waits, oldest first. One sender at a time, in this tab and the others. */
  flush(): Promise<Sent> {
    this.sending ??= alone(this.key, () => this.sendAll()).finally(() => {
      this.sending = null
    })
    return this.sending
  }

  private get refusedKey(): string {
    return `${this.key} refused`
  }

  private async store(entries: Waiting[]): Promise<boolean> {
    try {
      await update<Waiting[]>(this.key, (list) => {
        const there = new Set((list ?? []).map(nameOf))
        return [...(list ?? []), ...entries.filter((entry) => !there.has(nameOf(entry)))]
      })
      return true
    } catch {
      return false
    }
  }

  private async keptAt<T>(key: string): Promise<T[]> {
    try {
      return (await get<T[]>(key)) ?? []
    } catch {
      return []
    }
  }

  private async sendAll(): Promise<Sent> {
    let size = BATCH
    for (;;) {
      const batch = (await this.waiting()).slice(0, size)
      if (batch.length === 0) return 'all'
      // A server that asked for a pause gets it.
      if (this.now() < this.notBefore) return 'away'
      try {
        await this.send(batch)
      } catch (error) {
        if (error instanceof ApiError && error.retryAfter !== null) {
          this.notBefore = this.now() + Math.min(error.retryAfter, LONGEST_WAIT_SECONDS) * 1000
        }
        if (!isRefusal(error)) return error instanceof ApiError && error.status === 401 ? 'signed out' : 'away'
        // Find the one that is refused: hand them in singly, and set it aside.
        if (batch.length > 1) {
          size = 1
          continue
        }
        await this.setAside(batch, error.message)
      }
      await this.remove(batch)
    }
  }

  private async setAside(batch: Waiting[], said: string): Promise<void> {
    await update<Refused[]>(this.refusedKey, (list) => [...(list ?? []), ...batch.map((entry) => ({ entry, said }))])
    this.onRefused(batch)
  }

  private async remove(batch: Waiting[]): Promise<void> {
    // By name, not by count: another tab may have sent and removed some of these already.
    const done = new Set(batch.map(nameOf))
    this.inMemory = this.inMemory.filter((entry) => !done.has(nameOf(entry)))
    batch.forEach((entry) => this.ahead.done(entry))
    await update<Waiting[]>(this.key, (list) => (list ?? []).filter((entry) => !done.has(nameOf(entry)))).catch(
      () => undefined,
    )
  }
}

/** What tells an entry from all others. */
export function nameOf(entry: Waiting): string {
  return `${entry.kind} ${entry.id}`
}

/** A batch as it goes over the wire. */
export function handedIn(batch: Waiting[]): RepetitionsIn {
  return {
    repetitions: batch.filter((entry): entry is Played => entry.kind === 'played').map(withoutKind),
    taken_back: batch.filter((entry) => entry.kind === 'taken back').map((entry) => entry.id),
    slips: batch.filter((entry): entry is SlipTold => entry.kind === 'slip told').map((entry) => entry.slip),
    lines: batch.filter((entry): entry is LineSaid => entry.kind === 'line').map((entry) => entry.line),
  }
}

function withoutKind(entry: Played): Omit<Played, 'kind'> {
  return Object.fromEntries(Object.entries(entry).filter(([name]) => name !== 'kind')) as Omit<Played, 'kind'>
}

/** Run something while no other tab runs it, where the browser can tell. */
function alone<T>(name: string, work: () => Promise<T>): Promise<T> {
  const locks = typeof navigator === 'undefined' ? undefined : (navigator as { locks?: LockManager }).locks
  return locks ? locks.request(name, work) : work()
}

function isRefusal(error: unknown): error is ApiError {
  return error instanceof ApiError && [400, 403, 404, 409, 413, 422].includes(error.status)
}
