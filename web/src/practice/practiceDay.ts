/** What a student did today, on this device: for the sum at the end, and for the break in between. */
import type { Moment } from './session'
import { t } from '../words/words'

export interface DrillToday {
  itemId: string
  chunk: string
  drill: string
  fromTempo: number
  toTempo: number
  fromLevel: number
  toLevel: number
  clean: number
  slips: number
  /** The most clean ones in a row. */
  longest: number
  isFinished: boolean
}

export interface PracticeDay {
  day: string
  did: DrillToday[]
  /** Seconds of practice since the last break, and when that was counted (milliseconds). */
  stretch: number
  lastAt: number
}

const BREAK_AFTER = 25 * 60
const IS_BREAK_MS = 4 * 60_000

export function newPracticeDay(day: string): PracticeDay {
  return { day, did: [], stretch: 0, lastAt: 0 }
}

/** A practiceDay after some more seconds of practice; who was away for some minutes had their break. */
export function practised(practiceDay: PracticeDay, seconds: number, now: number): PracticeDay {
  const rested = now - seconds * 1000 - practiceDay.lastAt > IS_BREAK_MS
  return { ...practiceDay, stretch: (rested ? 0 : practiceDay.stretch) + seconds, lastAt: now }
}

export function isBreakDue(practiceDay: PracticeDay): boolean {
  return practiceDay.stretch >= BREAK_AFTER
}

export function rested(practiceDay: PracticeDay): PracticeDay {
  return { ...practiceDay, stretch: 0 }
}

/** The line of a drill, from where it stood when it was first opened today. */
export function lineOf(
  item: { id: string; chunk: string; drill: string; tempo: number; level: number },
  moment: Moment,
  before?: DrillToday,
): DrillToday {
  let run = 0
  let longest = 0
  for (const tap of moment.played) {
    run = tap.isClean ? run + 1 : 0
    longest = Math.max(longest, run)
  }
  const clean = moment.played.filter((tap) => tap.isClean).length
  return {
    itemId: item.id,
    chunk: item.chunk,
    drill: item.drill,
    fromTempo: before?.fromTempo ?? item.tempo,
    toTempo: moment.climb.tempo,
    fromLevel: before?.fromLevel ?? item.level,
    toLevel: moment.level,
    clean: (before?.clean ?? 0) + clean,
    slips: (before?.slips ?? 0) + moment.played.length - clean,
    longest: Math.max(before?.longest ?? 0, longest),
    isFinished: moment.climb.isFinished,
  }
}

export function withLine(practiceDay: PracticeDay, line: DrillToday): PracticeDay {
  return { ...practiceDay, did: [...practiceDay.did.filter((one) => one.itemId !== line.itemId), line] }
}

/** One sentence to be proud of, from what was done; null where nothing was. */
export function proudOf(did: DrillToday[]): string | null {
  const played = did.filter((one) => one.clean + one.slips > 0)
  const place = (one: DrillToday) => one.chunk.replace('→', '')
  const risen = most(played, (one) => one.toLevel - one.fromLevel)
  if (risen)
    return t('practice.roseFromLevelTo', { risen: place(risen), fromLevel: risen.fromLevel, toLevel: risen.toLevel })
  const finished = played.find((one) => one.isFinished)
  if (finished) return t('practice.youPlayedCleanAtGoalTempo', { finished: place(finished) })
  const faster = most(played, (one) => one.toTempo - one.fromTempo)
  if (faster)
    return t('practice.isBeatsAMinuteFasterThan', {
      faster: place(faster),
      beats: Math.round(faster.toTempo - faster.fromTempo),
    })
  const row = most(played, (one) => one.longest - 2)
  if (row) return t('practice.cleanInARowOn', { longest: row.longest, row: place(row) })
  const kept = most(played, (one) => one.clean + one.slips)
  if (!kept) return null
  const tries = kept.clean + kept.slips
  return tries > 2
    ? t('practice.youStayedWithForTriesThat', { kept: place(kept), tries })
    : t('practice.youBeganWith', { kept: place(kept) })
}

function most(did: DrillToday[], by: (one: DrillToday) => number): DrillToday | null {
  const best = [...did].sort((a, b) => by(b) - by(a))[0]
  return best && by(best) > 0 ? best : null
}
