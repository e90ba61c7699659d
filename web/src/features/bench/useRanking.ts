import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { ask } from '../../api/ask'
import { rankDrills, type BenchIn } from '../../api/gen'
import { keys } from '../../api/keys'

/** Every drill for a chunk, best first, with reasons. */
export function useRanking(partId: string, chunkId: string, player: NonNullable<BenchIn['player']>) {
  return useQuery({
    queryKey: keys.part.ranking(partId, chunkId, player),
    queryFn: () => ask(rankDrills({ path: { part_id: partId }, query: { chunk_id: chunkId, player } })),
    placeholderData: keepPreviousData,
  })
}
