import type { QueryClient } from '@tanstack/react-query'
import { ask } from '../../api/ask'
import { getStand, type HandedIn, type StandOut } from '../../api/gen'
import { keys } from '../../api/keys'

const PHONE = 600

/** As wide as this device is at its narrowest: turning it around fetches nothing new. */
function layoutHere(): 'phone-snippet' | 'snippet' {
  return Math.min(window.innerWidth, window.innerHeight) < PHONE ? 'phone-snippet' : 'snippet'
}

/** A drill on the Stand, as it is asked for and kept. */
export function standQuery(itemId: string) {
  const layout = layoutHere()
  return {
    queryKey: keys.stand.inLayout(itemId, layout),
    queryFn: () => ask(getStand({ path: { item_id: itemId }, query: { layout } })),
  }
}

/** The same in whatever size it was kept. */
export function anyStand(client: QueryClient, itemId: string): StandOut | undefined {
  return client.getQueriesData<StandOut>({ queryKey: keys.stand.item(itemId) }).find(([, data]) => data)?.[1]
}

const FRESH_MS = 10 * 60_000

/** Fetch drills ahead, one after the other, so that they open at once and without a network. */
export async function fetchAhead(client: QueryClient, itemIds: string[]): Promise<void> {
  for (const itemId of itemIds) {
    await client.query({ ...standQuery(itemId), staleTime: FRESH_MS, retry: false }).catch(() => undefined)
  }
}

/** What the server answered is what these drills stand at from now on, also after a restart. */
export function keepAnswer(client: QueryClient, answer: HandedIn): void {
  const climbs = new Map(answer.items.map((one) => [one.item_id, one.climb]))
  const levels = new Map(answer.levels.map((one) => [one.chunk_id, one.level]))
  client.setQueriesData<StandOut>({ queryKey: keys.stand.all }, (stand) => {
    if (!stand) return stand
    const climb = climbs.get(stand.item.item_id)
    const level = levels.get(stand.worked.chunk.id)
    if (!climb && level === undefined) return stand
    return {
      ...stand,
      ...(climb ? { climb } : {}),
      item: {
        ...stand.item,
        level: level ?? stand.item.level,
        ...(climb ? { tempo: climb.tempo, is_finished: climb.is_finished } : {}),
      },
    }
  })
}
