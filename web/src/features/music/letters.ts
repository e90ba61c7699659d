export interface Letter {
  number: number
  letter: string
}

/** Rehearsal letters as they are typed, `A 9, B 23`; null if that cannot be read. */
export function lettersOf(text: string): Letter[] | null {
  const said = text
    .split(/[,;\n]/)
    .map((one) => one.trim())
    .filter(Boolean)
  const read = said.map((one) => /^(\S{1,8})\s+(\d{1,4})$/.exec(one))
  if (read.some((one) => one === null)) return null
  return read.map((one) => ({ letter: one?.[1] ?? '', number: Number(one?.[2]) }))
}
