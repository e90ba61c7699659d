import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, InputNumber, Switch } from 'antd'
import { ask, said } from '../../api/ask'
import { changeTakeRules, getTakeRules, type TakeRulesOut } from '../../api/gen'
import { keys } from '../../api/keys'

/** Whether students may record themselves: the school's decision, off until it is made. */
export function TakeRules() {
  const { message } = App.useApp()
  const client = useQueryClient()
  const key = keys.takes.rules
  const rules = useQuery({ queryKey: key, queryFn: () => ask(getTakeRules()) })
  const change = useMutation({
    mutationFn: (body: TakeRulesOut) => ask(changeTakeRules({ body })),
    onSuccess: (now) => {
      client.setQueryData(key, now)
      void message.success(
        now.is_on ? `Takes are on, kept for ${now.weeks} weeks.` : 'Takes are off: nothing new can be recorded.',
      )
    },
    onError: (error) => void message.error(said(error)),
  })
  if (!rules.data) return null
  const { is_on, weeks } = rules.data
  return (
    <section className="account" aria-label="Takes">
      <h2>Takes</h2>
      <div className="inline">
        <label className="inline">
          <Switch
            checked={is_on}
            loading={change.isPending}
            onChange={(next) => change.mutate({ is_on: next, weeks })}
            aria-label="Students may record themselves"
          />{' '}
          Students may record themselves
        </label>
        <label className="inline">
          kept for{' '}
          <InputNumber
            aria-label="Weeks that takes are kept"
            min={1}
            max={26}
            value={weeks}
            onChange={(next) => next && change.mutate({ is_on, weeks: next })}
          />{' '}
          weeks
        </label>
      </div>
      <p className="muted">
        A recording of a child needs the consent that your school, your district and the families have agreed on: switch
        this on only with it. A take is heard by its student and by who judges, by no classmate; only its sound is kept.
        When it is switched off, what was handed in stays until its weeks are over or somebody deletes it. A backup
        keeps what it held on its day.
      </p>
    </section>
  )
}
