import { keys } from '../../api/keys'
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useSyncExternalStore } from 'react'

/** How many of some drills are on this device. */
export function useKeptDay(itemIds: string[]): { kept: number; of: number } {
  const client = useQueryClient()
  const wanted = new Set(itemIds)
  const watch = useCallback(
    (onChange: () => void) => client.getQueryCache().subscribe(() => queueMicrotask(onChange)),
    [client],
  )
  const there = useSyncExternalStore(watch, () => {
    const found = client.getQueriesData({ queryKey: keys.stand.all }).filter(([, data]) => data !== undefined)
    return new Set(found.map(([key]) => String(key[1])).filter((id) => wanted.has(id))).size
  })
  return { kept: there, of: wanted.size }
}
