/** Cells of the Wall that somebody chose to hear, until the browser's tab is closed. */
export interface HearingSelection {
  partId: string
  sectionId: string
  cells: { studentId: string; chunkId: string }[]
}

const NAME = 'crumb.to-hear'

export function keepHearingSelection(chosen: HearingSelection | null): void {
  if (chosen === null) sessionStorage.removeItem(NAME)
  else sessionStorage.setItem(NAME, JSON.stringify(chosen))
}

/** What was chosen of a part and section; null: nothing, so everybody is heard. */
export function hearingSelection(partId: string, sectionId: string): HearingSelection | null {
  const text = sessionStorage.getItem(NAME)
  const chosen = text === null ? null : (JSON.parse(text) as HearingSelection)
  return chosen?.partId === partId && chosen.sectionId === sectionId ? chosen : null
}
