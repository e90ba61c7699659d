import { useEffect } from 'react'
import type { Me } from '../api/gen'
import { chosenWords, rememberWords } from '../words/words'

/**
 * The page speaks as the signed-in school does. Its sentences are read once, at the start, so a device that
 * meets a school with other words opens again; what was counted waits in the outbox meanwhile.
 */
export function useSchoolWords(me: Me | null): void {
  const words = me?.words
  useEffect(() => {
    if (words === undefined || words === chosenWords()) return
    rememberWords(words)
    if (words === chosenWords()) window.location.reload()
  }, [words])
}
