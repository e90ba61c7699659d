import { useState } from 'react'

/**
 * Where one stops on the way and looks ahead: how many stretches one has gone on, from the first one
 * again each time through.
 *
 * @param hasHolds whether there is anywhere to stop
 * @param pass tells one time through from the next
 */
export function useLookAhead(hasHolds: boolean, pass: string) {
  const [isOn, setOn] = useState(false)
  const [gone, setGone] = useState({ pass, stretches: 0 })
  const stretches = gone.pass === pass ? gone.stretches : 0
  const ahead = hasHolds && isOn ? stretches : null
  return {
    ahead,
    hasHolds,
    isOn,
    toggle: () => setOn(!isOn),
    goOn: () => setGone({ pass, stretches: stretches + 1 }),
  }
}

export type LookAhead = ReturnType<typeof useLookAhead>
