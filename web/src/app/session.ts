import { useQuery } from '@tanstack/react-query'
import { ApiError, ask } from '../api/ask'
import { getMe, getSetup, type Me } from '../api/gen'

export const sessionKeys = { me: ['me'] as const, setup: ['setup'] as const }

/** The signed-in person, or null. */
export function useMe() {
  return useQuery({
    queryKey: sessionKeys.me,
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
  return useQuery({ queryKey: sessionKeys.setup, queryFn: () => ask(getSetup()), enabled: isNeeded })
}
