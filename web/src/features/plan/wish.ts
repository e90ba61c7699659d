import type { ChangeIn, OfferOut, PlanIn } from '../../api/gen'

interface Left {
  chunk: string
  tempo: number | null
}

/** The wish after an offer was taken. */
export function taken(wish: PlanIn, offer: OfferOut): PlanIn {
  const value: unknown = offer.value
  switch (offer.kind) {
    case 'minutes':
      return { ...wish, minutes_a_day: value as number }
    case 'date':
      return { ...wish, on: value as string }
    case 'goal':
      return { ...wish, goal: value as number }
    case 'days':
      return { ...wish, weekdays_off: [] }
    case 'leave':
      return withLeft(wish, value as Left[])
    case 'both': {
      const both = value as { minutes: number; leave: Left[] }
      return withLeft({ ...wish, minutes_a_day: both.minutes }, both.leave)
    }
    default:
      return wish
  }
}

function withLeft(wish: PlanIn, left: Left[]): PlanIn {
  const ids = new Set(left.map((one) => one.chunk))
  const kept = (wish.left ?? []).filter((one) => !ids.has(one.chunk_id))
  return { ...wish, left: [...kept, ...left.map((one) => ({ chunk_id: one.chunk, tempo: one.tempo }))] }
}

/** The wish with one more change by hand; one of the same kind on the same chunk gives way. */
export function withChange(wish: PlanIn, made: ChangeIn): PlanIn {
  const others = (wish.changes ?? []).filter(
    (one) =>
      !(one.kind === made.kind && one.chunk_id === made.chunk_id && (made.kind !== 'drop' || one.drill === made.drill)),
  )
  return { ...wish, changes: [...others, made] }
}

export function withoutChange(wish: PlanIn, gone: ChangeIn): PlanIn {
  return { ...wish, changes: (wish.changes ?? []).filter((one) => one !== gone) }
}
