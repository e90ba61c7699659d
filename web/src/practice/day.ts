/**
 * A day cut to fewer minutes where there is no network to ask: what comes first stays first, and nothing
 * is begun that does not fit. The school lays the day out by its own rules as soon as it is reached.
 */
export interface Planned {
  minutes: number
  is_finished: boolean
}

export function within<T extends Planned>(items: T[], minutes: number): T[] {
  let left = minutes
  return items.filter((item) => {
    if (item.is_finished) return true
    if (item.minutes > left) return false
    left -= item.minutes
    return true
  })
}
