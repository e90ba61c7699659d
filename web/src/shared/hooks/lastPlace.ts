import type { PieceOut, SectionOut } from '../../api/gen'
import { likelySections } from '../pure/likely'

export interface Place {
  part: string
  section: string
}

const KEY = 'crumb.wall'

/** Where the director was last, on this device. */
export function lastPlace(): Partial<Place> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Place>
  } catch {
    return {}
  }
}

export function rememberPlace(place: Place): void {
  localStorage.setItem(KEY, JSON.stringify(place))
}

/** A part that was worked on is where one was last, too; its section stays if it was that part's. */
export function rememberPart(part: string): void {
  const last = lastPlace()
  if (last.part !== part) localStorage.setItem(KEY, JSON.stringify({ part }))
}

interface Asked extends Partial<Place> {
  /** Whose: it opens on a section of theirs, one that plays the part if there is one. */
  student?: string | undefined
}

/** What the Wall opens on: what was asked for, where one was last, else a part with those who play it. */
export function opening(pieces: PieceOut[], sections: SectionOut[], asked: Asked, last: Partial<Place>): Place {
  const parts = pieces.flatMap((piece) => piece.parts)
  const known = (id: string | undefined) => parts.find((part) => part.id === id)
  const hasPlayers = (id: string) => (sections.find((one) => one.id === id)?.students.length ?? 0) > 0
  const played = parts.find((part) => part.section_ids.some(hasPlayers))
  const part = known(asked.part) ?? known(last.part) ?? played ?? parts.at(-1)
  const theirs = sections.filter((one) => asked.student && one.students.some((row) => row.id === asked.student))
  const playing = theirs.find((one) => part?.section_ids.includes(one.id)) ?? theirs[0]
  const wanted = [asked.section, playing?.id, part && part.id === last.part ? last.section : undefined]
  const section = wanted.find((id) => sections.some((one) => one.id === id))
  return {
    part: part?.id ?? '',
    section: section ?? (part && likelySections(sections, part)[0]) ?? sections[0]?.id ?? '',
  }
}
