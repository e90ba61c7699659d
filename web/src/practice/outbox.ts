/**
 * What was played waits here until the server has it: kept in the browser's own database, so that a
 * closed page or a lost network loses nothing. Ids are made here, so sending twice is harmless.
 */
import { get, update } from 'idb-keyval'
import { ApiError } from '../api/ask'

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
}

export interface TakenBack {
  kind: 'taken back'
  id: string
}

export type Waiting = Played | TakenBack

/** Something the server refused for good, and what it said. */
export interface Refused {
  entry: Waiting
  said: string
}

const BATCH = 200
const LONGEST_WAIT_SECONDS = 60

export class Outbox {
  private sending: Promise<boolean> | null = null
  private notBefore = 0

  /** One outbox per person: a shared tablet never mixes up two students. */
  constructor(
    private readonly key: string,
    private readonly send: (batch: Waiting[]) => Promise<unknown>,
    private readonly now: () => number = Date.now,
    private readonly onRefused: (entries: Waiting[]) => void = () => undefined,
  ) {}

  async add(entry: Waiting): Promise<void> {
    await update<Waiting[]>(this.key, (list) => [...(list ?? []), entry])
  }

  async waiting(): Promise<Waiting[]> {
    return (await get<Waiting[]>(this.key)) ?? []
  }

  /** What the server refused for good: kept apart, so that it never blocks the rest. */
  async refused(): Promise<Refused[]> {
    const list = (await get<(Refused | Waiting)[]>(this.refusedKey)) ?? []
    // A list from before refusals were told holds the entries alone.
    return list.map((one) => ('entry' in one ? one : { entry: one, said: '' }))
  }

  /** The student has seen what was refused, and lets go of it. */
  async forgetRefused(): Promise<void> {
    await update(this.refusedKey, () => [])
  }

  /** Send what waits, oldest first; true when nothing is left. One sender at a time. */
  flush(): Promise<boolean> {
    this.sending ??= this.sendAll().finally(() => {
      this.sending = null
    })
    return this.sending
  }

  private get refusedKey(): string {
    return `${this.key} refused`
  }

  private async sendAll(): Promise<boolean> {
    let size = BATCH
    for (;;) {
      const batch = (await this.waiting()).slice(0, size)
      if (batch.length === 0) return true
      // A server that asked for a pause gets it.
      if (this.now() < this.notBefore) return false
      try {
        await this.send(batch)
      } catch (error) {
        if (error instanceof ApiError && error.retryAfter !== null) {
          this.notBefore = this.now() + Math.min(error.retryAfter, LONGEST_WAIT_SECONDS) * 1000
        }
        if (!isRefusal(error)) return false
        // Find the one that is refused: hand them in singly, and set it aside.
        if (batch.length > 1) {
          size = 1
          continue
        }
        const said = error.message
        await update<Refused[]>(this.refusedKey, (list) => [...(list ?? []), ...batch.map((entry) => ({ entry, said }))])
        this.onRefused(batch)
      }
      // By name, not by count: another tab may have sent and removed some of these already.
      const done = new Set(batch.map(nameOf))
      await update<Waiting[]>(this.key, (list) => (list ?? []).filter((entry) => !done.has(nameOf(entry))))
    }
  }
}

/** What tells an entry from all others. */
export function nameOf(entry: Waiting): string {
  return `${entry.kind} ${entry.id}`
}

function isRefusal(error: unknown): error is ApiError {
  return error instanceof ApiError && [400, 403, 404, 409, 413, 422].includes(error.status)
}
