import { useQuery } from '@tanstack/react-query'
import { ApiError, ask } from '../api/ask'
import { getMe, getSetup, type Me } from '../api/gen'
import { keys } from '../api/keys'

/** The signed-in person, or null. */
export function useMe() {
  return useQuery({
    queryKey: keys.me,
    staleTime: Infinity,
    queryFn: async (): Promise<Me | null> => {
      try {
        return await ask(getMe())
      } catch (error) {
        if (error instanceof ApiError && error.status === 401) return null
        throw error
      }
    },
  })
}

export function useSetup(isNeeded: boolean) {
  return useQuery({ queryKey: keys.setup, queryFn: () => ask(getSetup()), enabled: isNeeded })
}
