/**
 * A student's day is kept on the device: after one visit it opens without a network, also after the
 * browser was closed. What is kept belongs to the one who is signed in, and goes when they sign out.
 */
import { keys } from '../api/keys'
import { dehydrate, hydrate, type DehydratedState, type QueryClient } from '@tanstack/react-query'
import { del, get, set } from 'idb-keyval'

const WHERE = 'crumb kept'
export const PERSISTED_MS = 14 * 24 * 3600 * 1000
/** Raised by itself whenever the API changes its shape: what an older page kept is then fetched anew. */
const SHAPE = __API_SHAPE__
const WAIT_MS = 500
const OPENING_MS = 1_500

/** What a student needs where there is no network. */
export const PERSISTED_KEYS = [keys.me, keys.today, keys.myPlan, keys.stand.all, keys.myMap, keys.myDiary].map(
  ([first]): string => first,
)

interface Kept {
  shape: string
  at: number
  state: DehydratedState
}

/** Bring back what was kept; without it the page simply asks the server. */
export async function restore(client: QueryClient): Promise<void> {
  for (const key of PERSISTED_KEYS) client.setQueryDefaults([key], { gcTime: PERSISTED_MS })
  try {
    const kept = await Promise.race([get<Kept>(WHERE), later(OPENING_MS)])
    if (kept?.shape === SHAPE && Date.now() - kept.at < PERSISTED_MS) hydrate(client, kept.state)
  } catch {
    // A private window, or a database that cannot be opened: nothing was kept.
  }
}

/** A database that does not open keeps nobody from the page. */
function later(ms: number): Promise<undefined> {
  return new Promise((done) => setTimeout(() => done(undefined), ms))
}

/** Keep what comes; the returned function ends that. */
export function persistOn(client: QueryClient): () => void {
  let timer: ReturnType<typeof setTimeout> | null = null
  const write = () => {
    timer = null
    void keep(client)
  }
  const leave = client.getQueryCache().subscribe((event) => {
    if (event.type !== 'updated' && event.type !== 'removed') return
    timer ??= setTimeout(write, WAIT_MS)
  })
  return () => {
    leave()
    if (timer !== null) clearTimeout(timer)
  }
}

export async function keep(client: QueryClient): Promise<void> {
  const me = client.getQueryData<{ role: string } | null>(keys.me)
  try {
    if (me?.role !== 'student') {
      await del(WHERE)
      return
    }
    const state = dehydrate(client, {
      shouldDehydrateMutation: () => false,
      shouldDehydrateQuery: (query) =>
        query.state.data !== undefined && PERSISTED_KEYS.includes(String(query.queryKey[0])),
    })
    await set(WHERE, { shape: SHAPE, at: Date.now(), state } satisfies Kept)
  } catch {
    // No room: the day is asked for again next time.
  }
}
