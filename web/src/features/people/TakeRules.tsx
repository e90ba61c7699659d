import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, InputNumber, Switch } from 'antd'
import { ask, said } from '../../api/ask'
import { changeTakeRules, getTakeRules, type TakeRulesOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'

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
        now.is_on
          ? t('people.takesAreOnCrumbKeepsThem', { weeks: now.weeks })
          : t('people.takesAreOffStudentsCannotRecord'),
      )
    },
    onError: (error) => void message.error(said(error)),
  })
  if (!rules.data) return null
  const { is_on, weeks } = rules.data
  return (
    <section className="account" aria-label={t('people.takes')}>
      <h2>{t('people.takes')}</h2>
      <div className="inline">
        <label className="inline">
          <Switch
            checked={is_on}
            loading={change.isPending}
            onChange={(next) => change.mutate({ is_on: next, weeks })}
            aria-label={t('people.studentsMayRecordThemselves')}
          />{' '}
          {t('people.studentsMayRecordThemselves')}
        </label>
        <label className="inline">
          {t('people.keepFor')}{' '}
          <InputNumber
            aria-label={t('people.weeksToKeepTakes')}
            min={1}
            max={26}
            value={weeks}
            onChange={(next) => next && change.mutate({ is_on, weeks: next })}
          />{' '}
          {t('people.weeks')}
        </label>
      </div>
      <p className="muted">{t('people.switchThisOnOnlyWithThe')}</p>
    </section>
  )
}
