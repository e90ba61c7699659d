import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect } from 'react'
import { ask } from '../../api/ask'
import { getTakeRules, handTakeIn, listMyTakes, type Me } from '../../api/gen'
import { keys } from '../../api/keys'
import { TakeBox, type KeptTake, type TakeChange } from '../../practice/takeBox'

const EVERY_MS = 20_000
const AGAIN_MS = 2000
const boxes = new Map<string, TakeBox>()

/** A student's takes on this device: a shared tablet never mixes up two students. */
export function takeBoxOf(me: Me): TakeBox {
  const key = `crumb takes ${me.class_code} ${me.name}`
  const known = boxes.get(key)
  if (known) return known
  const made = new TakeBox(key, (take) =>
    ask(
      handTakeIn({
        body: {
          file: new Blob([take.data], { type: take.type }),
          id: take.id,
          part_id: take.partId,
          chunk_id: take.chunkId,
          recorded_at: take.recordedAt,
          why_anew: take.whyAnew,
        },
      }),
    ),
  )
  boxes.set(key, made)
  return made
}

/** Whether the school has takes; without a network, whether it had them. */
export function useHasTakes(): boolean {
  const rules = useQuery({ queryKey: keys.takes.rules, queryFn: () => ask(getTakeRules()) })
  useEffect(() => {
    if (rules.data) localStorage.setItem('crumb.takes', String(rules.data.is_on))
  }, [rules.data])
  return rules.data?.is_on ?? localStorage.getItem('crumb.takes') === 'true'
}

/** What one is asked for and what one handed in; looked at again while something is being made ready. */
export function useMyTakes({ isWanted = true } = {}) {
  return useQuery({
    enabled: isWanted,
    queryKey: keys.takes.mine,
    queryFn: () => ask(listMyTakes()),
    refetchInterval: (query) => (query.state.data?.takes.some((take) => take.state === 'waiting') ? AGAIN_MS : false),
  })
}

/** What waits is sent whenever there is a network. */
export function useSentTakes(me: Me): void {
  const client = useQueryClient()
  useEffect(() => {
    const flush = async () => {
      const before = (await takeBoxOf(me).list()).length
      if (before === 0) return
      await takeBoxOf(me).flush()
      await client.invalidateQueries({ queryKey: keys.takes.all })
    }
    const again = () => void flush().catch(() => undefined)
    again()
    const timer = window.setInterval(again, EVERY_MS)
    window.addEventListener('online', again)
    return () => {
      window.clearInterval(timer)
      window.removeEventListener('online', again)
    }
  }, [me, client])
}

/** The takes on this device, and what can be done with them. */
export function useTakeBox(me: Me) {
  const client = useQueryClient()
  const box = takeBoxOf(me)
  const here = useQuery({ queryKey: keys.takes.onDevice(me.name), queryFn: () => box.list(), networkMode: 'always' })
  const renew = useCallback(() => client.invalidateQueries({ queryKey: keys.takes.all }), [client])
  return {
    takes: here.data ?? [],
    keep: async (take: KeptTake) => {
      await box.keep(take)
      await renew()
    },
    drop: async (id: string) => {
      await box.drop(id)
      await renew()
    },
    handIn: async (id: string, change: TakeChange) => {
      await box.change(id, { ...change, isHandedIn: true, refused: '' })
      await renew()
      await box.flush()
      await renew()
    },
  }
}
