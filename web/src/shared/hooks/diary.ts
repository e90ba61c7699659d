import { v7 } from 'uuid'
import type { LineSaid } from '../../practice/outbox'
import type { SyncQueue } from '../../practice/syncQueue'
import { schoolClock } from './schoolClock'

type Line = LineSaid['line']
/** What a line says, without its own name and moment. */
export type Said = Line extends infer One ? (One extends Line ? Omit<One, 'id' | 'at' | 'item_id'> : never) : never

/** Write a line into the diary; it goes the way of everything that is handed in. */
export function write(queue: SyncQueue, said: Said, itemId: string | null = null): void {
  const id = v7()
  const line = { ...said, id, at: new Date(schoolClock.now()).toISOString(), item_id: itemId } as Line
  queue.put({ kind: 'line', id, line })
}
