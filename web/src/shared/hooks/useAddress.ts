import { useCallback, useEffect, useRef } from 'react'
import { useSearchParams } from 'react-router'

/** What stands after the question mark, and a way to change some of it: changes in quick succession add up. */
export function useAddress(): [URLSearchParams, (next: Record<string, string>, how?: { replace: boolean }) => void] {
  const [address, setAddress] = useSearchParams()
  // What was chosen last, though it may not be drawn yet.
  const latest = useRef(address)
  useEffect(() => {
    latest.current = address
  }, [address])
  const change = useCallback(
    (next: Record<string, string>, how?: { replace: boolean }) => {
      const kept = new URLSearchParams(latest.current)
      Object.entries(next).forEach(([name, value]) => kept.set(name, value))
      latest.current = kept
      setAddress(kept, how)
    },
    [setAddress],
  )
  return [address, change]
}
