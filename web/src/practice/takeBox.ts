/**
 * Takes on this device: recorded, heard again, the best one handed in as soon as there is a network. They wait in
 * the browser's own database, each under an id made here, so that handing one in twice is harmless.
 */
import { get, update } from 'idb-keyval'
import { ApiError } from '../api/ask'

export interface KeptTake {
  id: string
  partId: string
  chunkId: string
  chunk: string
  /** Bytes and not a Blob: some browsers lose Blobs that are kept. */
  data: ArrayBuffer
  type: string
  seconds: number
  recordedAt: string
  /** Whether it is on its way; else it is here to be heard again. */
  isHandedIn: boolean
  whyAnew: string
  /** Why the server would not take it. */
  refused: string
}

export type TakeChange = Partial<Pick<KeptTake, 'isHandedIn' | 'whyAnew' | 'refused'>>

export class TakeBox {
  private sending: Promise<void> | null = null

  constructor(
    private readonly key: string,
    private readonly send: (take: KeptTake) => Promise<unknown>,
  ) {}

  /** What is here, the newest first. */
  async list(): Promise<KeptTake[]> {
    return (await get<KeptTake[]>(this.key)) ?? []
  }

  async keep(take: KeptTake): Promise<void> {
    await update<KeptTake[]>(this.key, (list) => [take, ...(list ?? []).filter((one) => one.id !== take.id)])
  }

  async change(id: string, change: TakeChange): Promise<void> {
    await update<KeptTake[]>(this.key, (list) =>
      (list ?? []).map((one) => (one.id === id ? { ...one, ...change } : one)),
    )
  }

  async drop(id: string): Promise<void> {
    await update<KeptTake[]>(this.key, (list) => (list ?? []).filter((one) => one.id !== id))
  }

  /** Send what is to be handed in, one at a time; what cannot go now waits for the next time. */
  flush(): Promise<void> {
    this.sending ??= this.sendAll().finally(() => {
      this.sending = null
    })
    return this.sending
  }

  private async sendAll(): Promise<void> {
    for (const take of (await this.list()).reverse()) {
      if (!take.isHandedIn) continue
      try {
        await this.send(take)
        await this.drop(take.id)
      } catch (error) {
        if (!(error instanceof ApiError) || error.isPassing || error.status === 401 || error.status === 507) return
        await this.change(take.id, { isHandedIn: false, refused: error.message })
      }
    }
  }
}
