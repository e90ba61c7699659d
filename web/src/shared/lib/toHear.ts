/** Cells of the Wall that somebody chose to hear, until the browser's tab is closed. */
export interface ToHear {
  partId: string
  sectionId: string
  cells: { studentId: string; chunkId: string }[]
}

const NAME = 'crumb.to-hear'

export function keepToHear(chosen: ToHear | null): void {
  if (chosen === null) sessionStorage.removeItem(NAME)
  else sessionStorage.setItem(NAME, JSON.stringify(chosen))
}

/** What was chosen of a part and section; null: nothing, so everybody is heard. */
export function toHear(partId: string, sectionId: string): ToHear | null {
  const text = sessionStorage.getItem(NAME)
  const chosen = text === null ? null : (JSON.parse(text) as ToHear)
  return chosen?.partId === partId && chosen.sectionId === sectionId ? chosen : null
}
