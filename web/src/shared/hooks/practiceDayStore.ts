import type { DrillToday, PracticeDay } from '../../practice/practiceDay'
import { newPracticeDay } from '../../practice/practiceDay'
import { inDays } from '../pure/time'

const whose = (who: string) => `crumb.sitting.${who}`

/** What was done today on this device, by one person. */
export function readPracticeDay(who: string): PracticeDay {
  const today = inDays(0)
  try {
    const kept = JSON.parse(localStorage.getItem(whose(who)) ?? 'null') as PracticeDay | null
    return kept?.day === today ? kept : newPracticeDay(today)
  } catch {
    return newPracticeDay(today)
  }
}

export function keepPracticeDay(who: string, practiceDay: PracticeDay): void {
  try {
    localStorage.setItem(whose(who), JSON.stringify(practiceDay))
  } catch {
    // No room: the sum at the end is shorter.
  }
}

export function lineBefore(practiceDay: PracticeDay, itemId: string): DrillToday | undefined {
  return practiceDay.did.find((one) => one.itemId === itemId)
}
