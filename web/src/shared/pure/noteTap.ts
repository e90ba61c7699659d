import type { PositionOut } from '../../api/gen'
import { placeOfNote } from './scoreMap'

const NEAR_PIXELS = 40

/** The note that was meant by a tap: the nearest one, if any is near. */
export function noteNear(sheet: ParentNode, x: number, y: number): PositionOut | null {
  const near = [...sheet.querySelectorAll('g.note')]
    .map((note) => ({ at: placeOfNote(note.id), far: distance(note.querySelector('.notehead') ?? note, x, y) }))
    .sort((a, b) => a.far - b.far)[0]
  return near?.at && near.far < NEAR_PIXELS ? near.at : null
}

/** Mark notes at some places; the returned function takes that away. */
export function markNotes(sheet: ParentNode, places: PositionOut[], name: string): () => void {
  const notes = [...sheet.querySelectorAll('g.note')].filter((note) => {
    const at = placeOfNote(note.id)
    return at !== null && places.some((one) => isSame(one, at))
  })
  notes.forEach((note) => note.classList.add(name))
  return () => notes.forEach((note) => note.classList.remove(name))
}

export function isSame(a: PositionOut, b: PositionOut): boolean {
  return a.index === b.index && a.at === b.at
}

function distance(element: Element, x: number, y: number): number {
  const box = element.getBoundingClientRect()
  return Math.hypot(x - (box.left + box.right) / 2, (y - (box.top + box.bottom) / 2) / 2)
}
