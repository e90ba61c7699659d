import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button } from 'antd'
import { useEffect, useRef } from 'react'
import { useLocation } from 'react-router'
import { ask, said } from '../../api/ask'
import { bringTakeTaskBack, listTakeTasks, withdrawTakeTask, type TaskOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { useMay } from '../../shared/hooks/rights'
import { day } from '../../shared/pure/time'
import { passageName } from '../../shared/pure/passages'
import { t } from '../../words/words'

/** What sections were asked to hand in, and who has not yet. */
export function Tasks() {
  const tasks = useQuery({ queryKey: keys.takes.tasks, queryFn: () => ask(listTakeTasks()) })
  const { hash } = useLocation()
  const here = useRef<HTMLElement>(null)
  const isThere = (tasks.data?.length ?? 0) > 0
  useEffect(() => {
    if (isThere && hash === '#asked') here.current?.scrollIntoView()
  }, [isThere, hash])
  if (tasks.isError) return <p role="alert">{said(tasks.error)}</p>
  if (!tasks.data || !isThere) return null
  return (
    <section className="take-tasks" aria-label={t('hearing.askedFor')} ref={here}>
      <h2>{t('hearing.askedFor')}</h2>
      <ul>
        {tasks.data.map((task) => (
          <Task key={task.id} task={task} />
        ))}
      </ul>
    </section>
  )
}

function Task({ task }: { task: TaskOut }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const maySend = useMay('send')
  const renew = () => client.invalidateQueries({ queryKey: keys.takes.tasks })
  const back = useMutation({
    mutationFn: () => ask(bringTakeTaskBack({ path: { task_id: task.id } })),
    onSuccess: renew,
    onError: (error) => void message.error(said(error)),
  })
  const withdraw = useMutation({
    mutationFn: () => ask(withdrawTakeTask({ path: { task_id: task.id } })),
    onSuccess: async () => {
      await renew()
      void message.success(
        <>
          {t('hearing.youNoLongerAskForIt')}{' '}
          <Button size="small" type="link" onClick={() => back.mutate()}>
            {t('hearing.undo')}
          </Button>
        </>,
        6,
      )
    },
    onError: (error) => void message.error(said(error)),
  })
  const done = task.students.filter((one) => one.is_closed)
  const short = task.students.filter((one) => !one.is_closed && one.states.includes('short'))
  const missing = task.students.filter((one) => !one.is_closed && !one.states.includes('short'))
  const of = task.students.length
  const wanted = task.wanted
    .map((thing) =>
      t('hearing.of', {
        either: thing.either.map((one) => passageName(one)).join(' or '),
        handedIn: thing.handed_in,
        of,
      }),
    )
    .join('; ')
  return (
    <li>
      <span>
        <strong>{task.section}</strong>
        {t('hearing.byOfDueOnWanted', { dueOn: day(task.due_on), wanted })}{' '}
        <span className="muted">
          {t('hearing.ofHandedEverythingIn', { doneCount: done.length, of })}
          {short.length > 0 && t('hearing.tooShort', { short: short.map((one) => one.name).join(', ') })}
        </span>
        {missing.length > 0 && (
          <details className="muted">
            <summary>{t('hearing.notYet', { missingCount: missing.length })}</summary>
            {missing.map((one) => one.name).join(', ')}
          </details>
        )}
      </span>
      {maySend && (
        <Button size="small" loading={withdraw.isPending} onClick={() => withdraw.mutate()}>
          {t('hearing.stopAsking')}
        </Button>
      )}
    </li>
  )
}
