import { useSyncExternalStore } from 'react'
import { ask } from '../../api/ask'
import { recordRepetitions, type Me } from '../../api/gen'
import { SyncQueue } from '../../practice/syncQueue'

const queues = new Map<string, SyncQueue>()

/** What a student hands in goes this way; one for the whole page. */
export function syncQueueOf(me: Me): SyncQueue {
  // The name is as it always was: what an older page left here is found.
  const key = `crumb outbox ${me.class_code} ${me.name}`
  const known = queues.get(key)
  if (known) return known
  const made = new SyncQueue(key, (body) => ask(recordRepetitions({ body })))
  queues.set(key, made)
  return made
}

/** The same, watched. */
export function useSyncQueue(me: Me) {
  const queue = syncQueueOf(me)
  const state = useSyncExternalStore(queue.watch, queue.snapshot)
  return { queue, ...state }
}
