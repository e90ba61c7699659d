import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Alert, App, Button, Select } from 'antd'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { ask, said } from '../../api/ask'
import {
  changePlan,
  getPlan,
  previewPlan,
  sendPlan,
  type MapOut,
  type OfferOut,
  type PartDetail,
  type PlanIn,
  type PlanOut,
  type SectionOut,
} from '../../api/gen'
import { keys } from '../../api/keys'
import { likelySections } from '../../shared/lib/likely'
import { useOnce } from '../../shared/lib/once'
import { useChunks, usePart, useSections } from '../../shared/lib/part.queries'
import { bpm, day, inDays } from '../../shared/lib/time'
import { PartHead } from '../../shared/ui/PartHead'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { Calendar } from './Calendar'
import { planCsv } from './csv'
import { PlanForm } from './PlanForm'
import { inHundred, Students } from './Students'
import { taken } from './wish'
import './plan.css'

/** A new plan for a part, or (with an id) one that was sent. */
export default function Plan() {
  const { partId = '', planId = '' } = useParams()
  const plan = useQuery({
    queryKey: keys.plan.one(planId),
    queryFn: () => ask(getPlan({ path: { plan_id: planId } })),
    enabled: planId !== '',
  })
  const part = usePart(partId || (plan.data?.wish.part_id ?? ''))
  const map = useChunks(partId)
  const sections = useSections()
  const failed = [plan, part, sections].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!part.data || !sections.data || (partId !== '' && map.isPending) || (planId !== '' && !plan.data))
    return <Loading what="Unrolling the calendar" />
  const filled = sections.data.filter((section) => section.students.length > 0)
  if (filled.length === 0) {
    return (
      <div className="page">
        <PartHead detail={part.data} />
        <Empty title="Nobody to plan for yet">
          <p>Make a section and write its students in.</p>
          <Link to="/people">To People</Link>
        </Empty>
      </div>
    )
  }
  return (
    <PlanView key={planId} detail={part.data} sections={filled} kept={plan.data ?? null} order={orderOf(map.data)} />
  )
}

interface ViewProps {
  detail: PartDetail
  sections: SectionOut[]
  kept: PlanOut | null
  order: PlanIn['order']
}

/** As the Splitter says; where nobody chose an order, what gains most. */
function orderOf(map: MapOut | undefined): PlanIn['order'] {
  return map && map.order.kind !== 'front' ? map.order.kind : 'hardest'
}

function PlanView({ detail, sections, kept, order }: ViewProps) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const navigate = useNavigate()
  const [wish, setWish] = useState<PlanIn>(
    () =>
      kept?.wish ?? {
        part_id: detail.part.id,
        section_id: likelySections(sections, detail.part)[0] ?? '',
        on: inDays(28),
        minutes_a_day: 20,
        warm_up_minutes: 4,
        order,
        player: 'intermediate',
        weekdays_off: [],
        changes: [],
        left: [],
      },
  )
  const [before, setBefore] = useState<PlanIn[]>([])
  const [studentId, setStudentId] = useState<string | undefined>()
  const preview = useQuery({
    queryKey: keys.planPreview.one(wish, studentId),
    queryFn: () => ask(previewPlan({ body: wish, query: studentId ? { student_id: studentId } : {} })),
    enabled: wish.on !== '' && wish.section_id !== '',
    placeholderData: keepPreviousData,
    retry: false,
  })
  function change(next: PlanIn) {
    setBefore([...before, wish])
    if (next.section_id !== wish.section_id) setStudentId(undefined)
    setWish(next)
  }
  function undo() {
    const last = before.at(-1)
    if (!last) return
    setBefore(before.slice(0, -1))
    setWish(last)
  }
  const once = useOnce()
  const send = useMutation({
    mutationFn: async () => {
      if (kept?.id) await ask(changePlan({ path: { plan_id: kept.id }, body: wish }))
      else await once(wish, (id) => ask(sendPlan({ body: { ...wish, id } })))
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.plans })
      await client.invalidateQueries({ queryKey: keys.plan.all })
      void message.success(
        kept ? 'Changed: days from today on follow it.' : 'Sent: from now on their days come from it.',
      )
      await navigate('/plans')
    },
  })
  const found = preview.data
  const isDirty = JSON.stringify(wish) !== JSON.stringify(kept?.wish)
  return (
    <div className="page">
      <PartHead detail={detail} />
      <h2>{kept ? `The plan of ${kept.section}` : 'Plan the piece'}</h2>
      <PlanForm
        wish={wish}
        change={change}
        sections={sections}
        isKept={kept !== null}
        detail={detail}
        passages={preview.data?.passages ?? kept?.passages ?? []}
      />
      {preview.isError && <Alert type="error" showIcon title={said(preview.error)} role="alert" />}
      {!found && preview.isPending && <Loading what="Counting minutes for everybody" />}
      {found && !preview.isError && (
        <div className={preview.isPlaceholderData ? 'planned stale' : 'planned'} aria-busy={preview.isPlaceholderData}>
          {found.why_split && <p className="muted">{found.why_split}</p>}
          <Verdict plan={found} take={(offer) => change(taken(wish, offer))} />
          <Goals plan={found} wish={wish} choose={(goal) => change({ ...wish, goal })} />
          <Weeks plan={found} />
          <div className="inline">
            <Button
              type="primary"
              loading={send.isPending}
              disabled={kept !== null && !isDirty}
              onClick={() => send.mutate()}
            >
              {kept ? 'Change the plan' : `Send it to ${found.section}`}
            </Button>
            <Button disabled={before.length === 0} onClick={undo}>
              Undo
            </Button>
            <Button onClick={() => planCsv(found)}>CSV</Button>
            {send.isError && <Alert type="error" showIcon title={said(send.error)} role="alert" />}
          </div>
          <Students plan={found} show={setStudentId} />
          <h2>
            Days of{' '}
            <Select
              aria-label="Whose days are shown"
              value={found.shown.student_id}
              onChange={setStudentId}
              options={found.students.map((one) => ({ value: one.student_id, label: one.name }))}
              style={{ minWidth: 160 }}
            />
          </h2>
          <Calendar plan={found} wish={wish} change={change} />
        </div>
      )}
    </div>
  )
}

const GOALS = { floor: 'Floor', goal: 'Goal', festival: 'Festival' }

/** The tempos it can be performed at, with the chance of each; one of them is planned for. */
function Goals({ plan, wish, choose }: { plan: PlanOut; wish: PlanIn; choose: (goal: number | null) => void }) {
  if (plan.goals.length === 0) return null
  const planned = wish.goal ?? plan.goal_bpm
  return (
    <ul className="offers" aria-label="Tempos to be ready for">
      {plan.goals.map((one) => (
        <li key={one.name}>
          <span>
            {GOALS[one.name]} {bpm(one.tempo)}: {inHundred(one.chance)} in 100 for {plan.shown.name}
          </span>
          {Math.round(one.tempo) === Math.round(planned) ? (
            <span className="muted">planned for</span>
          ) : (
            <Button size="small" onClick={() => choose(one.name === 'goal' ? null : Math.round(one.tempo))}>
              Plan for it
            </Button>
          )}
        </li>
      ))}
    </ul>
  )
}

/** The rhythm of the class: what is new in each week, and what is kept up from the one before. */
function Weeks({ plan }: { plan: PlanOut }) {
  if (plan.weeks.length === 0) return null
  return (
    <div className="table-scroll">
      <table className="plain weeks">
        <caption className="visually-hidden">The weeks of {plan.section}</caption>
        <thead>
          <tr>
            <th scope="col">Due</th>
            <th scope="col">New</th>
            <th scope="col">Kept up</th>
          </tr>
        </thead>
        <tbody>
          {plan.weeks.map((week) => (
            <tr key={week.due}>
              <th scope="row">{day(week.due)}</th>
              <td>{week.focus.join(', ') || 'nothing new'}</td>
              <td>{week.upkeep.join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** Whether it holds, in numbers, and what would make it. */
function Verdict({ plan, take }: { plan: PlanOut; take: (offer: OfferOut) => void }) {
  const all = plan.students.length
  const chance = inHundred(plan.shown.chance)
  return (
    <div className="verdict">
      <p className="lead">
        {plan.likely === all
          ? `Everybody in ${plan.section} is likely to be ready by then.`
          : `${plan.likely} of ${all} in ${plan.section} are likely to be ready by then.`}{' '}
        For {plan.shown.name} it is {chance} in 100
        {plan.short_by_minutes > 0 && `: about ${plan.short_by_minutes} minutes are missing`}.
      </p>
      {plan.offers.length > 0 && (
        <ul className="offers" aria-label="What would make it hold">
          {plan.offers.map((offer) => (
            <li key={offer.kind}>
              <span>{offer.say}</span>
              <Button size="small" onClick={() => take(offer)}>
                Do that
              </Button>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
