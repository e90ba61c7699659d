import type { PartOut, SectionOut } from '../../api/gen'

/** Who plays a part; else the section whose name starts like its instrument, or the first with players. */
export function likelySections(sections: SectionOut[], part: Pick<PartOut, 'section_ids' | 'instrument'>): string[] {
  const filled = sections.filter((section) => section.students.length > 0)
  const players = filled.filter((section) => part.section_ids.includes(section.id))
  if (players.length > 0) return players.map((section) => section.id)
  const stem = part.instrument.slice(0, 5).toLowerCase()
  const likely = filled.find((section) => section.name.toLowerCase().startsWith(stem)) ?? filled[0]
  return likely ? [likely.id] : []
}
