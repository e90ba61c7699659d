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
import { likelySections } from '../../shared/pure/likely'
import { useOnce } from '../../shared/hooks/once'
import { useChunks, usePart, useSections } from '../../shared/hooks/part.queries'
import { bpm, day, inDays } from '../../shared/pure/time'
import { PartHead } from '../../shared/ui/PartHead'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { Calendar } from './Calendar'
import { planCsv } from './csv'
import { PlanForm } from './PlanForm'
import { inHundred, Students } from './Students'
import { taken } from './wish'
import { t } from '../../words/words'
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
    return <Loading what={t('plan.loadingThePlan')} />
  const filled = sections.data.filter((section) => section.students.length > 0)
  if (filled.length === 0) {
    return (
      <div className="page">
        <PartHead detail={part.data} />
        <Empty title={t('plan.noStudentsYet')}>
          <p>{t('plan.makeASectionAndAddIts')}</p>
          <Link to="/people">{t('plan.openPeople')}</Link>
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
      void message.success(kept ? t('plan.thePlanIsChangedFromToday') : t('plan.thePlanIsSentTheirDays'))
      await navigate('/plans')
    },
  })
  const found = preview.data
  const isDirty = JSON.stringify(wish) !== JSON.stringify(kept?.wish)
  return (
    <div className="page">
      <PartHead detail={detail} />
      <h2>{kept ? t('plan.thePlanOf', { section: kept.section }) : t('plan.planThePiece')}</h2>
      <PlanForm
        wish={wish}
        change={change}
        sections={sections}
        isKept={kept !== null}
        detail={detail}
        passages={preview.data?.passages ?? kept?.passages ?? []}
      />
      {preview.isError && <Alert type="error" showIcon title={said(preview.error)} role="alert" />}
      {!found && preview.isPending && <Loading what={t('plan.planningEverybodysMinutes')} />}
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
              {kept ? t('plan.changeThePlan') : t('plan.sendItTo', { section: found.section })}
            </Button>
            <Button disabled={before.length === 0} onClick={undo}>
              {t('plan.undo')}
            </Button>
            <Button onClick={() => planCsv(found)}>{t('plan.csv')}</Button>
            {send.isError && <Alert type="error" showIcon title={said(send.error)} role="alert" />}
          </div>
          <Students plan={found} show={setStudentId} />
          <h2>
            {t('plan.daysOf')}{' '}
            <Select
              aria-label={t('plan.showTheDaysOf')}
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

const GOALS = { floor: t('plan.floor'), goal: t('plan.goal'), festival: t('plan.festival') }

/** The tempos it can be performed at, with the chance of each; one of them is planned for. */
function Goals({ plan, wish, choose }: { plan: PlanOut; wish: PlanIn; choose: (goal: number | null) => void }) {
  if (plan.goals.length === 0) return null
  const planned = wish.goal ?? plan.goal_bpm
  return (
    <ul className="offers" aria-label={t('plan.temposToBeReadyFor')}>
      {plan.goals.map((one) => (
        <li key={one.name}>
          <span>
            {t('plan.in100For', {
              goals: GOALS[one.name],
              tempo: bpm(one.tempo),
              chance: inHundred(one.chance),
              name: plan.shown.name,
            })}
          </span>
          {Math.round(one.tempo) === Math.round(planned) ? (
            <span className="muted">{t('plan.plannedFor')}</span>
          ) : (
            <Button size="small" onClick={() => choose(one.name === 'goal' ? null : Math.round(one.tempo))}>
              {t('plan.planForIt')}
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
        <caption className="visually-hidden">{t('plan.theWeeksOf', { section: plan.section })}</caption>
        <thead>
          <tr>
            <th scope="col">{t('plan.due')}</th>
            <th scope="col">{t('plan.new')}</th>
            <th scope="col">{t('plan.keptUp')}</th>
          </tr>
        </thead>
        <tbody>
          {plan.weeks.map((week) => (
            <tr key={week.due}>
              <th scope="row">{day(week.due)}</th>
              <td>{week.focus.join(', ') || t('plan.nothingNew')}</td>
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
        {t('plan.forItIsIn100', {
          likely:
            plan.likely === all
              ? t('plan.everybodyInIsLikelyToBe', { section: plan.section })
              : t('plan.ofInAreLikelyToBe', { likely: plan.likely, all, section: plan.section }),
          name: plan.shown.name,
          chance,
        })}
        {plan.short_by_minutes > 0 && t('plan.aboutMinutesAreMissing', { shortByMinutes: plan.short_by_minutes })}.
      </p>
      {plan.offers.length > 0 && (
        <ul className="offers" aria-label={t('plan.howToBeReadyInTime')}>
          {plan.offers.map((offer) => (
            <li key={offer.kind}>
              <span>{offer.say}</span>
              <Button size="small" onClick={() => take(offer)}>
                {t('plan.doThis')}
              </Button>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
