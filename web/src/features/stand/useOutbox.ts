import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useMemo, useState } from 'react'
import { ask } from '../../api/ask'
import { recordRepetitions, type HandedIn, type Me } from '../../api/gen'
import { Outbox, type Played, type Refused, type Waiting } from '../../practice/outbox'

/** The student's outbox, flushed when something is added and whenever the network comes back. */
export function useOutbox(me: Me, onAnswer: (batch: Waiting[], answer: HandedIn) => void, onRefused: (batch: Waiting[]) => void) {
  const client = useQueryClient()
  const [unsent, setUnsent] = useState(0)
  const [refused, setRefused] = useState<Refused[]>([])
  const outbox = useMemo(
    () =>
      new Outbox(
        `crumb outbox ${me.class_code} ${me.name}`,
        async (batch: Waiting[]) => {
          const repetitions = batch.filter((entry): entry is Played => entry.kind === 'played')
          const taken_back = batch.filter((entry) => entry.kind === 'taken back').map((entry) => entry.id)
          onAnswer(batch, await ask(recordRepetitions({ body: { repetitions, taken_back } })))
        },
        Date.now,
        onRefused,
      ),
    [me.class_code, me.name, onAnswer, onRefused],
  )
  const look = useCallback(async () => {
    setUnsent((await outbox.waiting()).length)
    setRefused(await outbox.refused())
  }, [outbox])
  useEffect(() => {
    const flush = () => void outbox.flush().then(look)
    flush()
    window.addEventListener('online', flush)
    const timer = window.setInterval(flush, 5_000)
    return () => {
      window.removeEventListener('online', flush)
      window.clearInterval(timer)
    }
  }, [outbox, look])
  const put = useCallback(
    async (entry: Waiting) => {
      await outbox.add(entry)
      await look()
      await outbox.flush()
      await look()
      void client.invalidateQueries({ queryKey: ['today'] })
      void client.invalidateQueries({ queryKey: ['map'] })
    },
    [outbox, look, client],
  )
  const forget = useCallback(() => void outbox.forgetRefused().then(look), [outbox, look])
  return { put, unsent, refused, forget, outbox }
}
