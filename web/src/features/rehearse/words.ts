import type { MeanwhileOut, WrittenKeyOut } from '../../api/gen'

/** Sections that do the same meanwhile, named together. */
export function inWords(meanwhile: MeanwhileOut[]): { say: string; who: string }[] {
  const said = new Map<string, string[]>()
  for (const { section, say } of meanwhile) said.set(say, [...(said.get(say) ?? []), section])
  return [...said].map(([say, sections]) => ({ say, who: sections.join(', ') }))
}

/** One sounding key as each reads it: `C: Clarinets, Trumpets · F: Horns`. */
export function keysInWords(written: WrittenKeyOut[]): string {
  const keys = new Map<string, string[]>()
  for (const { section, key } of written) keys.set(key, [...(keys.get(key) ?? []), section])
  return [...keys].map(([key, sections]) => `${key}: ${sections.join(', ')}`).join(' · ')
}
