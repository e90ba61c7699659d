import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import type { Me, MyPlanOut, TodayItemOut } from '../api/gen'
import { keys } from '../api/keys'
import { fetchAhead, keepAnswer } from '../shared/hooks/stand.queries'
import { syncQueueOf } from '../shared/hooks/useSyncQueue'

const A_MOMENT_MS = 1_500

/** While a student is signed in: what they count is on its way, and their day is fetched ahead. */
export function useStudentDay(me: Me | null): void {
  const client = useQueryClient()
  useEffect(() => {
    if (me?.role !== 'student') return
    const queue = syncQueueOf(me)
    const leave = queue.listen({
      answered: (_, answer) => {
        keepAnswer(client, answer)
        // The list of the day is asked for at once only where something on it has changed for good.
        const isTurn = answer.items.some((one) => one.climb.is_finished)
        for (const queryKey of [keys.today, keys.myPlan, keys.myMap, keys.myDiary]) {
          void client.invalidateQueries({ queryKey, refetchType: isTurn ? 'all' : 'active' })
        }
      },
    })
    const stop = queue.start()
    return () => {
      leave()
      stop()
    }
  }, [me, client])
  useEffect(() => {
    if (me?.role !== 'student') return
    let timer: number | null = null
    const ahead = () => {
      timer = null
      const plans = client.getQueryData<MyPlanOut[]>(keys.myPlan) ?? []
      const today = client.getQueryData<TodayItemOut[]>(keys.today) ?? []
      const items = [...plans.flatMap((plan) => plan.items.map((one) => one.item)), ...today]
      void fetchAhead(client, [...new Set(items.map((item) => item.item_id))])
    }
    const leave = client.getQueryCache().subscribe((event) => {
      const [first] = event.query.queryKey as unknown[]
      const key = String(first)
      if (
        event.type !== 'updated' ||
        event.action.type !== 'success' ||
        ![keys.today[0], keys.myPlan[0]].some((one) => one === key)
      )
        return
      if (timer !== null) window.clearTimeout(timer)
      timer = window.setTimeout(ahead, A_MOMENT_MS)
    })
    return () => {
      leave()
      if (timer !== null) window.clearTimeout(timer)
    }
  }, [me, client])
}
