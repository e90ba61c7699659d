/** Stopping and starting on purpose: fragments of a few notes, some times each, on through the piece. */
export const NOTES = 5
export const TIMES = 10

export interface Bookmark {
  fragment: number
  times: number
}

export const START: Bookmark = { fragment: 0, times: 0 }

/** Ids of the notes of each fragment; each begins on the note that the one before it lands on. */
export function fragmentsOf(notes: string[]): string[][] {
  const found: string[][] = []
  for (let first = 0; first < Math.max(notes.length - 1, 1); first += NOTES - 1)
    found.push(notes.slice(first, first + NOTES))
  return found
}

/** One time more; after the last time the next fragment; after the last fragment it begins anew. */
export function onceMore(mark: Bookmark, count: number): Bookmark {
  if (mark.times + 1 < TIMES) return { ...mark, times: mark.times + 1 }
  return { fragment: (mark.fragment + 1) % Math.max(count, 1), times: 0 }
}
