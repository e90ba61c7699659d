import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Alert, Button } from 'antd'
import { Fragment, useEffect, useState } from 'react'
import { Link } from 'react-router'
import { ApiError, ask, said } from '../../api/ask'
import { haveMinutes, type MyPlanOut, type PlanDayOut, type PlannedItemOut, type WeekOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { CATEGORIES, categoryName } from '../../shared/pure/categories'
import { within } from '../../practice/day'
import { bpm, day } from '../../shared/pure/time'
import { LevelMark } from '../../shared/ui/LevelMark'
import { t } from '../../words/words'

/** A student's day in a plan: what, how long, why; fewer minutes at a tap; the days that follow. */
export function MyPlan({ plan }: { plan: MyPlanOut }) {
  const client = useQueryClient()
  const [cut, setCut] = useState<number | null>(null)
  const have = useMutation({
    mutationFn: (count: number | null) =>
      ask(haveMinutes({ path: { plan_id: plan.plan_id }, body: { minutes: count } })),
    onSuccess: () => {
      setCut(null)
      return client.invalidateQueries({ queryKey: keys.myPlan })
    },
    onError: (error, count) => {
      if (error instanceof ApiError && error.status === 0) setCut(count)
    },
  })
  const { mutate } = have
  useEffect(() => {
    if (cut === null) return
    const again = () => mutate(cut)
    window.addEventListener('online', again)
    return () => window.removeEventListener('online', again)
  }, [cut, mutate])
  const items =
    cut === null
      ? plan.items
      : within(
          plan.items.map((one) => ({ ...one, is_finished: one.item.is_finished })),
          cut,
        )
  const sessions = [...new Set(items.map((one) => one.session))]
  return (
    <section className="my-plan" aria-label={t('today.planFor', { title: plan.title })}>
      <h2>
        {plan.title} <small className="muted">{t('today.readyBy', { on: day(plan.on) })}</small>
      </h2>
      {plan.week && <ThisWeek week={plan.week} />}
      {cut !== null && (
        <p className="away" role="status">
          {t('today.noNetworkCrumbPlansTheDay', {
            change: cut === 0 ? t('today.nothingTodayThen') : t('today.yourDayCutToMinutes', { cut }),
          })}
        </p>
      )}
      {plan.items.length === 0 && (
        <p className="muted">
          {plan.minutes_today === 0 ? t('today.notTodayYourPlannedWorkComes') : t('today.nothingIsPlannedForToday')}
        </p>
      )}
      {sessions.map((number) => (
        <div key={number}>
          {sessions.length > 1 && <h3>{t('today.session', { number })}</h3>}
          <ol className="today">
            {items
              .filter((one) => one.session === number)
              .map((one) => (
                <Fragment key={one.item.item_id}>
                  <Planned one={one} isWhole={plan.is_whole} />
                  {one.is_break_after && <li className="rest">{t('today.fiveMinutesOff')}</li>}
                </Fragment>
              ))}
          </ol>
        </div>
      ))}
      <div className="inline minutes-today">
        <Button
          size="small"
          loading={have.isPending}
          disabled={plan.minutes_today === 10}
          onClick={() => have.mutate(10)}
        >
          {t('today.iHaveOnly10Minutes')}
        </Button>
        <Button size="small" disabled={plan.minutes_today === 0 || have.isPending} onClick={() => have.mutate(0)}>
          {t('today.notToday')}
        </Button>
        {plan.minutes_today !== null && (
          <Button size="small" disabled={have.isPending} onClick={() => have.mutate(null)}>
            {t('today.asUsualMinutes', { minutesADay: plan.minutes_a_day })}
          </Button>
        )}
      </div>
      {have.isError && cut === null && <Alert type="error" showIcon title={said(have.error)} role="alert" />}
      <Ahead days={plan.ahead} />
    </section>
  )
}

function Planned({ one, isWhole }: { one: PlannedItemOut; isWhole: boolean }) {
  const { item } = one
  return (
    <li className={item.is_finished ? 'finished' : ''}>
      <Link to={`/stand/${item.item_id}`}>
        <LevelMark level={item.level} size={28} hasNumber={false} />
        <span className="what">
          <span className="category">{CATEGORIES[one.category]}</span>{' '}
          <strong>{one.category === 'run-through' && isWhole ? t('today.theWholePart') : item.chunk}</strong>{' '}
          {item.drill}
          <small>{one.why}</small>
        </span>
        <span className="how-long">
          {item.is_finished ? t('today.done') : t('today.minOfMinutes', { minutes: one.minutes })}
          <small>{t('today.ofOfTempoGoalBpm', { tempo: bpm(item.tempo), goalBpm: bpm(item.goal_bpm) })}</small>
        </span>
      </Link>
    </li>
  )
}

function ThisWeek({ week }: { week: WeekOut }) {
  return (
    <p className="muted">
      {t('today.dueOfDueValue', {
        due: day(week.due),
        work: week.focus.length > 0 ? week.focus.join(', ') : t('today.nothingNewMakeAllOfIt'),
      })}
      {week.upkeep.length > 0 && <>{t('today.keptUpFromBefore', { upkeep: week.upkeep.join(', ') })}</>}.
    </p>
  )
}

function Ahead({ days }: { days: PlanDayOut[] }) {
  if (days.length === 0) return null
  return (
    <details className="ahead">
      <summary>{t('today.theNextDays')}</summary>
      <ol>
        {days.map((practiceDay) => (
          <li key={`${practiceDay.day} ${practiceDay.session}`}>
            <strong>{day(practiceDay.day)}</strong>{' '}
            {practiceDay.items
              .map((item) =>
                t('today.minOfValueMinutes', {
                  category:
                    item.category === 'focus' || item.category === 'keep'
                      ? item.place.replace('→', '')
                      : categoryName(item.category),
                  minutes: item.minutes,
                }),
              )
              .join(', ') || t('today.free')}
          </li>
        ))}
      </ol>
      <p className="muted">{t('today.theseDaysChangeWithWhatYou')}</p>
    </details>
  )
}
