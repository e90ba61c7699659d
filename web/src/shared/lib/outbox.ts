/**
 * What was played waits here until the server has it: kept in the browser's own database, so that a
 * closed page or a lost network loses nothing. Ids are made here, so sending twice is harmless.
 */
import { get, update } from 'idb-keyval'
import { ApiError } from '../../api/ask'

export interface Played {
  kind: 'played'
  id: string
  item_id: string
  step: number
  tempo_bpm: number
  is_clean: boolean
  played_at: string
}

export interface TakenBack {
  kind: 'taken back'
  id: string
}

export type Waiting = Played | TakenBack

const BATCH = 200

export class Outbox {
  private sending: Promise<boolean> | null = null

  /** One outbox per person: a shared tablet never mixes up two students. */
  constructor(
    private readonly key: string,
    private readonly send: (batch: Waiting[]) => Promise<unknown>,
  ) {}

  async add(entry: Waiting): Promise<void> {
    await update<Waiting[]>(this.key, (list) => [...(list ?? []), entry])
  }

  async waiting(): Promise<Waiting[]> {
    return (await get<Waiting[]>(this.key)) ?? []
  }

  /** What the server refused for good: kept apart, so that it never blocks the rest. */
  async refused(): Promise<Waiting[]> {
    return (await get<Waiting[]>(`${this.key} refused`)) ?? []
  }

  /** Send what waits, oldest first; true when nothing is left. One sender at a time. */
  flush(): Promise<boolean> {
    this.sending ??= this.sendAll().finally(() => {
      this.sending = null
    })
    return this.sending
  }

  private async sendAll(): Promise<boolean> {
    let size = BATCH
    for (;;) {
      const batch = (await this.waiting()).slice(0, size)
      if (batch.length === 0) return true
      try {
        await this.send(batch)
      } catch (error) {
        if (!isRefusal(error)) return false
        // Find the one that is refused: hand them in singly, and set it aside.
        if (batch.length > 1) {
          size = 1
          continue
        }
        await update<Waiting[]>(`${this.key} refused`, (list) => [...(list ?? []), ...batch])
      }
      // By name, not by count: another tab may have sent and removed some of these already.
      const done = new Set(batch.map(nameOf))
      await update<Waiting[]>(this.key, (list) => (list ?? []).filter((entry) => !done.has(nameOf(entry))))
    }
  }
}

function nameOf(entry: Waiting): string {
  return `${entry.kind} ${entry.id}`
}

function isRefusal(error: unknown): boolean {
  return error instanceof ApiError && [400, 403, 404, 409, 422].includes(error.status)
}
