import { AT_TEMPO } from '../../shared/pure/levels'
import { useQueryClient } from '@tanstack/react-query'
import type { MyPlanOut, PlannedItemOut, TodayItemOut } from '../../api/gen'
import { keys } from '../../api/keys'

export interface Where {
  category: PlannedItemOut['category']
  /** Why this one, in the plan's words. */
  why: string
  minutes: number
  /** Its place among what is open today. */
  place: number
  of: number
  next: { itemId: string; name: string; why: string } | null
}

/**
 * Where in the day one is: from what Today has, so that it is known without a network.
 *
 * @param level where the chunk in hand stands now: at goal, no more minutes go into it
 */
export function useWhere(itemId: string, level: number): Where | null {
  const client = useQueryClient()
  const plans = client.getQueryData<MyPlanOut[]>(keys.myPlan) ?? []
  const today = client.getQueryData<TodayItemOut[]>(keys.today) ?? []
  const planned = plans.flatMap((plan) => plan.items)
  const byHand = today.filter((item) => !item.rests && !item.waits && !item.is_at_goal)
  const day = [
    ...planned.map((one) => ({ item: one.item, why: one.why, category: one.category, minutes: one.minutes })),
    ...byHand.map((item) => ({
      item,
      why: item.note,
      category: item.role === 'upkeep' ? ('keep' as const) : ('focus' as const),
      minutes: item.minutes,
    })),
  ]
  const place = day.findIndex((one) => one.item.item_id === itemId)
  const here = day[place]
  if (!here) return null
  const isDone = (item: TodayItemOut) =>
    item.chunk === here.item.chunk && item.part === here.item.part && level >= AT_TEMPO && byHand.includes(item)
  const next = day.slice(place + 1).find((one) => !one.item.is_finished && !isDone(one.item))
  return {
    category: here.category,
    why: here.why,
    minutes: here.minutes,
    place: place + 1,
    of: day.length,
    next: next
      ? { itemId: next.item.item_id, name: `${next.item.chunk.replace('→', '')}, ${next.item.drill}`, why: next.why }
      : null,
  }
}
