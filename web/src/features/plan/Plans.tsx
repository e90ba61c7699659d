import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button } from 'antd'
import { Link } from 'react-router'
import { ask, said } from '../../api/ask'
import { getOutlook, listPlans, withdrawPlan, type OutlookLineOut, type PlanLineOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { day } from '../../shared/lib/time'
import { CalendarLink } from '../../shared/ui/CalendarLink'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import './plan.css'

export default function Plans() {
  const plans = useQuery({ queryKey: keys.plans, queryFn: () => ask(listPlans()) })
  // Everybody's chances take a moment to count: the list is there before them.
  const outlook = useQuery({ queryKey: keys.outlook, queryFn: () => ask(getOutlook()) })
  if (plans.isPending) return <Loading what="Looking up the plans" />
  if (plans.isError) return <Failed error={plans.error} retry={() => void plans.refetch()} />
  const known = new Map(outlook.data?.plans.map((one) => [one.id, one]))
  return (
    <div className="page">
      <h1>Plans</h1>
      {outlook.data && outlook.data.students > 0 && (
        <p className="lead">
          {outlook.data.likely} of {outlook.data.students} players are likely to be ready for all their dates.
        </p>
      )}
      {plans.data.length === 0 && (
        <Empty title="No plan yet">
          <p>Open a part in Music and choose Plan: a date and minutes a day become everybody’s weeks.</p>
          <Link to="/music">To Music</Link>
        </Empty>
      )}
      {plans.data.length > 0 && (
        <div className="table-scroll">
          <table className="plain">
            <thead>
              <tr>
                <th scope="col">Section</th>
                <th scope="col">Piece</th>
                <th scope="col">Ready by</th>
                <th scope="col">Minutes a day</th>
                <th scope="col">Likely ready</th>
                <th scope="col">Held up by</th>
                <th scope="col">
                  <span className="visually-hidden">Change</span>
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
      <td>{outlook ? `${outlook.likely} of ${outlook.students}` : isCounting && !plan.is_withdrawn ? '…' : ''}</td>
      <td>{outlook?.bottleneck.replace('→', '')}</td>
      <td>
        <Button size="small" loading={end.isPending} onClick={() => end.mutate()}>
          {plan.is_withdrawn ? 'Bring back' : 'End it'}
        </Button>
      </td>
    </tr>
  )
}
