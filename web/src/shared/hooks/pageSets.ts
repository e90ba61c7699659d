import { useQuery } from '@tanstack/react-query'
import { ask } from '../../api/ask'
import { listPageSets, type JobState } from '../../api/gen'
import { keys } from '../../api/keys'

export const isBeingRead = (state: JobState | undefined) => state === 'waiting' || state === 'working'

export function usePageSets() {
  return useQuery({
    queryKey: keys.pageSets,
    queryFn: () => ask(listPageSets()),
    refetchInterval: (query) => (query.state.data?.some((one) => isBeingRead(one.state)) ? 1500 : false),
  })
}
