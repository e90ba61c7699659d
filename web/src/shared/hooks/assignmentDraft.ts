/** Drills a director has chosen but not sent yet, kept per part in the browser. */
import { useSyncExternalStore } from 'react'
import type { LadderIn, WorkedOut } from '../../api/gen'

export type Scale = NonNullable<LadderIn['scale']>
export type Way = NonNullable<LadderIn['way']>

export interface DraftItem {
  key: string
  chunkId: string
  chunk: string
  drill: string
  title: string
  settings: Record<string, number | string>
  /** Without start or step: what fits the minutes of a day, or no ladder at all. */
  start: number | null
  goal: number
  step: number | null
  /** What a step counts, and how it is climbed; chosen before there was a choice: clicks, a ladder. */
  scale?: Scale
  way?: Way
  climbSeconds: number
  /** This week's focus, or kept going from before; chosen before there were roles: focus. */
  role?: 'focus' | 'upkeep'
  /** For every so-many-th day of practice; chosen before there was a choice: every day. */
  every?: number
}

const listeners = new Set<() => void>()
const empty: DraftItem[] = []
const cache = new Map<string, { text: string; items: DraftItem[] }>()

const nameOf = (partId: string) => `crumb.tray.${partId}`

function read(partId: string): DraftItem[] {
  const text = localStorage.getItem(nameOf(partId))
  if (text === null) return empty
  const known = cache.get(partId)
  if (known?.text === text) return known.items
  const items = JSON.parse(text) as DraftItem[]
  cache.set(partId, { text, items })
  return items
}

function write(partId: string, items: DraftItem[]): void {
  localStorage.setItem(nameOf(partId), JSON.stringify(items))
  listeners.forEach((listener) => listener())
}

export function useAssignmentDraft(partId: string) {
  const items = useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => read(partId),
  )
  return {
    items,
    add: (item: DraftItem) => write(partId, [...read(partId).filter((i) => i.key !== item.key), item]),
    remove: (key: string) =>
      write(
        partId,
        read(partId).filter((i) => i.key !== key),
      ),
    clear: () => write(partId, []),
    replace: (next: DraftItem[]) => write(partId, next),
  }
}

interface Chosen {
  start: number | null
  goal: number
  step: number | null
  scale: Scale
  way: Way
}

/** The ladder a drill was worked out with, to be sent as it was shown. */
export function climbOf(worked: WorkedOut, chosen: Chosen): Chosen {
  const { start, step, goal, scale, way } = chosen
  return { start: worked.ladder?.start_bpm ?? start, goal, step: worked.ladder?.step_bpm ?? step, scale, way }
}
