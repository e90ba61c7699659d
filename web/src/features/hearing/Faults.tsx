import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button } from 'antd'
import { ask, said } from '../../api/ask'
import { cureAll, listFaults, type FaultOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { useOnce } from '../../shared/hooks/once'
import { useMay } from '../../shared/hooks/rights'
import { inDays } from '../../shared/pure/time'
import { t } from '../../words/words'

const DAYS = 7
const MINUTES = 15

/** One fault that several have: its cure goes to all of them in one act. */
export function Faults({ partId }: { partId: string }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const maySend = useMay('send')
  const faults = useQuery({
    queryKey: keys.faults.ofPart(partId),
    queryFn: () => ask(listFaults({ path: { part_id: partId } })),
  })
  const once = useOnce()
  const cure = useMutation({
    mutationFn: (fault: FaultOut) => {
      const wish = { chunk_id: fault.chunk.id, symptom: fault.cure.key, due_on: inDays(DAYS), minutes_a_day: MINUTES }
      return once(wish, (id) => ask(cureAll({ path: { part_id: partId }, body: { ...wish, id } })))
    },
    onSuccess: ({ drill, students }) => {
      void client.invalidateQueries({ queryKey: keys.assignments })
      void message.success(t('hearing.sentToForAWeek', { drill, students }))
    },
    onError: (error) => void message.error(said(error)),
  })
  if (!faults.data || faults.data.length === 0) return null
  return (
    <section className="faults" aria-label={t('hearing.heardFromSeveral')}>
      <h2>{t('hearing.heardFromSeveral')}</h2>
      <ul>
        {faults.data.map((fault) => (
          <li key={`${fault.chunk.id} ${fault.cure.key}`}>
            <span>
              <strong>{fault.chunk.label.replace('→', '')}</strong> {fault.cure.heard}:{' '}
              {fault.students.map((one) => one.name).join(', ')}.{' '}
              <span className="muted">{t('hearing.likely', { likely: fault.cure.likely })}</span>
            </span>
            {maySend && (
              <Button
                size="small"
                loading={cure.isPending && cure.variables === fault}
                onClick={() => cure.mutate(fault)}
              >
                {t('hearing.sendToThese', { drill: fault.cure.drills[0], studentsCount: fault.students.length })}
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
