import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button } from 'antd'
import { Link } from 'react-router'
import { ask, said } from '../../api/ask'
import { getOutlook, listPlans, withdrawPlan, type OutlookLineOut, type PlanLineOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { day } from '../../shared/pure/time'
import { CalendarLink } from '../../shared/ui/CalendarLink'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'
import './plan.css'

export default function Plans() {
  const plans = useQuery({ queryKey: keys.plans, queryFn: () => ask(listPlans()) })
  // Everybody's chances take a moment to count: the list is there before them.
  const outlook = useQuery({ queryKey: keys.outlook, queryFn: () => ask(getOutlook()) })
  if (plans.isPending) return <Loading what={t('plan.loadingThePlans')} />
  if (plans.isError) return <Failed error={plans.error} retry={() => void plans.refetch()} />
  const known = new Map(outlook.data?.plans.map((one) => [one.id, one]))
  return (
    <div className="page">
      <h1>{t('plan.plans')}</h1>
      {outlook.data && outlook.data.students > 0 && (
        <p className="lead">
          {t('plan.ofPlayersAreLikelyToBe', { likely: outlook.data.likely, students: outlook.data.students })}
        </p>
      )}
      {plans.data.length === 0 && (
        <Empty title={t('plan.noPlanYet')}>
          <p>{t('plan.openAPartInMusicAnd')}</p>
          <Link to="/music">{t('plan.openMusic')}</Link>
        </Empty>
      )}
      {plans.data.length > 0 && (
        <div className="table-scroll">
          <table className="plain">
            <thead>
              <tr>
                <th scope="col">{t('plan.section')}</th>
                <th scope="col">{t('plan.piece')}</th>
                <th scope="col">{t('plan.readyBy')}</th>
                <th scope="col">{t('plan.minutesADay')}</th>
                <th scope="col">{t('plan.likelyReady')}</th>
                <th scope="col">{t('plan.heldUpBy')}</th>
                <th scope="col">
                  <span className="visually-hidden">{t('plan.change')}</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {plans.data.map((plan) => (
                <Line key={plan.id} plan={plan} outlook={known.get(plan.id)} isCounting={outlook.isPending} />
              ))}
            </tbody>
          </table>
        </div>
      )}
      <CalendarLink />
    </div>
  )
}

interface LineProps {
  plan: PlanLineOut
  outlook: OutlookLineOut | undefined
  isCounting: boolean
}

function Line({ plan, outlook, isCounting }: LineProps) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const end = useMutation({
    mutationFn: () => ask(withdrawPlan({ path: { plan_id: plan.id }, query: { back: plan.is_withdrawn } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.plans }),
    onError: (error) => void message.error(said(error)),
  })
  return (
    <tr className={plan.is_withdrawn ? 'withdrawn' : ''}>
      <th scope="row">
        <Link to={`/plans/${plan.id}`}>{plan.section}</Link>
      </th>
      <td>
        {plan.title} <span className="muted">{plan.part}</span>
      </td>
      <td>{day(plan.on)}</td>
      <td>{plan.minutes_a_day}</td>
      <td>
        {outlook
          ? t('plan.of', { likely: outlook.likely, students: outlook.students })
          : isCounting && !plan.is_withdrawn
            ? '…'
            : ''}
      </td>
      <td>{outlook?.bottleneck.replace('→', '')}</td>
      <td>
        <Button size="small" loading={end.isPending} onClick={() => end.mutate()}>
          {plan.is_withdrawn ? t('plan.bringBack') : t('plan.endThePlan')}
        </Button>
      </td>
    </tr>
  )
}
