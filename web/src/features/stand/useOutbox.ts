import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { ask } from '../../api/ask'
import { recordRepetitions, retractRepetition, type Me, type PracticeState } from '../../api/gen'
import { Outbox, type Played, type Waiting } from '../../shared/lib/outbox'

/** The student's outbox, flushed when something is added and whenever the network comes back. */
export function useOutbox(me: Me, onState: (state: PracticeState) => void) {
  const client = useQueryClient()
  const [unsent, setUnsent] = useState(0)
  const outbox = useMemo(
    () =>
      new Outbox(`crumb outbox ${me.class_code} ${me.name}`, async (batch: Waiting[]) => {
        const played = batch.filter((entry): entry is Played => entry.kind === 'played')
        if (played.length > 0) {
          const states = await ask(recordRepetitions({ body: { repetitions: played } }))
          states.forEach(onState)
        }
        for (const entry of batch) {
          if (entry.kind === 'taken back') onState(await ask(retractRepetition({ path: { repetition_id: entry.id } })))
        }
      }),
    [me.class_code, me.name, onState],
  )
  useEffect(() => {
    const flush = () => void outbox.flush().then(() => outbox.waiting().then((list) => setUnsent(list.length)))
    flush()
    window.addEventListener('online', flush)
    const timer = window.setInterval(flush, 15_000)
    return () => {
      window.removeEventListener('online', flush)
      window.clearInterval(timer)
    }
  }, [outbox])
  async function put(entry: Waiting) {
    await outbox.add(entry)
    setUnsent((await outbox.waiting()).length)
    await outbox.flush()
    setUnsent((await outbox.waiting()).length)
    void client.invalidateQueries({ queryKey: ['today'] })
    void client.invalidateQueries({ queryKey: ['map'] })
  }
  return { put, unsent, outbox }
}
