/** The first column that is drawn and the first after those: what is seen, a few beyond it, in whole groups. */
export function shownRange(
  seen: { startIndex: number; endIndex: number } | null,
  count: number,
  beyond: number,
  group: number,
): [number, number] {
  if (!seen) return [0, 0]
  const from = Math.max(Math.floor((seen.startIndex - beyond) / group) * group, 0)
  const to = Math.ceil((seen.endIndex + 1 + beyond) / group) * group
  return [from, Math.min(to, count)]
}
