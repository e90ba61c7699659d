/** Exact musical time arrives as "3/2"; it becomes a number only where pixels or seconds are needed. */
export function toNumber(exact: string): number {
  const [over = '0', under = '1'] = exact.split('/')
  return Number(over) / Number(under)
}

export function isSameTime(a: string, b: string): boolean {
  const [p = '0', q = '1'] = a.split('/')
  const [r = '0', s = '1'] = b.split('/')
  return Number(p) * Number(s) === Number(r) * Number(q)
}
