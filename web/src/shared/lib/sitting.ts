import type { Did, Sitting } from '../../practice/sitting'
import { newSitting } from '../../practice/sitting'
import { inDays } from './time'

const whose = (who: string) => `crumb.sitting.${who}`

/** What was done today on this device, by one person. */
export function readSitting(who: string): Sitting {
  const today = inDays(0)
  try {
    const kept = JSON.parse(localStorage.getItem(whose(who)) ?? 'null') as Sitting | null
    return kept?.day === today ? kept : newSitting(today)
  } catch {
    return newSitting(today)
  }
}

export function keepSitting(who: string, sitting: Sitting): void {
  try {
    localStorage.setItem(whose(who), JSON.stringify(sitting))
  } catch {
    // No room: the sum at the end is shorter.
  }
}

export function didBefore(sitting: Sitting, itemId: string): Did | undefined {
  return sitting.did.find((one) => one.itemId === itemId)
}
