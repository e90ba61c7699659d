import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { Link, useNavigate } from 'react-router'
import { ask, said } from '../../api/ask'
import { getMyPlan, getToday, layOutMyDay, type Me, type MyPlanOut, type TodayItemOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { readPracticeDay } from '../../shared/hooks/practiceDayStore'
import { bpm, day, minutes } from '../../shared/pure/time'
import { CalendarLink } from '../../shared/ui/CalendarLink'
import { SyncStatus } from '../../shared/ui/SyncStatus'
import { useKeptDay } from '../../shared/hooks/useKeptDay'
import { AT_TEMPO } from '../../shared/pure/levels'
import { LevelMark } from '../../shared/ui/LevelMark'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { ToHandIn } from '../../shared/ui/ToHandIn'
import { useHasTakes, useMyTakes } from '../../shared/hooks/useTakes'
import { MyPlan } from './MyPlan'
import { t } from '../../words/words'
import { Say } from '../../words/Say'
import './today.css'

/** Seconds after which hands and lips want a break. */
const HALF_AN_HOUR = 30 * 60

export default function Today({ me }: { me: Me }) {
  const navigate = useNavigate()
  const today = useQuery({ queryKey: keys.today, queryFn: () => ask(getToday()) })
  const plans = useQuery({ queryKey: keys.myPlan, queryFn: myPlans })
  const takes = useMyTakes({ isWanted: useHasTakes() })
  const kept = useKeptDay(
    [...(plans.data ?? []).flatMap((plan) => plan.items.map((one) => one.item)), ...(today.data ?? [])].map(
      (item) => item.item_id,
    ),
  )
  const away = [today, plans].find((query) => query.isError)
  const failed = [today, plans].find((query) => query.isError && query.data === undefined)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  // What was kept is of another day: whoever can be asked is asked first.
  const isOld = [today, plans].some((query) => query.isFetching && !isToday(query.dataUpdatedAt))
  if (!today.data || !plans.data || isOld) return <Loading what={t('today.loadingYourDay')} />
  const doneHere = new Set(
    readPracticeDay(me.name)
      .did.filter((one) => one.isFinished)
      .map((one) => one.itemId),
  )
  const planned = plans.data.flatMap((plan) =>
    plan.items
      .filter((one) => !one.item.is_finished && !doneHere.has(one.item.item_id))
      .map((one) => ({ item: one.item, minutes: one.minutes })),
  )
  const byHand = today.data
    .filter(
      (item) => !item.is_finished && !doneHere.has(item.item_id) && !item.rests && !item.waits && !item.is_at_goal,
    )
    .map((item) => ({ item, minutes: item.minutes }))
  const open = [...planned, ...byHand]
  const next = open[0]?.item
  const isWarmUp = plans.data.some((plan) => plan.items.some((one) => one.item === next && one.category === 'warm-up'))
  const total = open.reduce((sum, one) => sum + one.minutes * 60, 0)
  const isEmpty = today.data.length === 0 && plans.data.length === 0
  return (
    <div className="page narrow">
      <h1>{t('today.today')}</h1>
      {away && <Away error={away.error} retry={() => void Promise.all([today.refetch(), plans.refetch()])} />}
      {isEmpty && (
        <Empty title={t('today.nothingOpen', { name: me.name.split(' ')[0] ?? '' })}>
          <p>{t('today.whenYourDirectorSendsYouWork')}</p>
        </Empty>
      )}
      {next && (
        <>
          <p className="lead">
            {t(total > HALF_AN_HOUR ? 'today.inAllWarmUpFirstTake' : 'today.inAllWarmUpFirst', {
              total: minutes(total),
            })}
          </p>
          <Button
            type="primary"
            size="large"
            block
            className="big-start"
            onClick={() => void navigate(`/stand/${next.item_id}`)}
          >
            {t('today.startWith', { first: isWarmUp ? t('today.theWarmUp') : next.chunk.replace('→', '') })}
          </Button>
        </>
      )}
      {!isEmpty && !next && <p className="lead">{t('today.allDonePlaySomethingYouLike')}</p>}
      {plans.data.map((plan) => (
        <MyPlan key={plan.plan_id} plan={plan} />
      ))}
      {today.data.length > 0 && (
        <>
          {plans.data.length > 0 && <h2>{t('today.sentByYourDirector')}</h2>}
          <ol className="today">
            {today.data.map((item) => (
              <Line key={item.item_id} item={item} />
            ))}
          </ol>
        </>
      )}
      {takes.data && <ToHandIn asked={takes.data.asked} />}
      {!isEmpty && (
        <p>
          <Link to="/done">{t('today.toTheEndOfTodayWhat')}</Link>
        </p>
      )}
      <SyncStatus me={me} day={kept} />
      {plans.data.length > 0 && <CalendarLink />}
      <p className="muted">
        <Say it="today.aSheetOnPaperEnterIts" components={[<Link to="/sheets" />]} />
      </p>
    </div>
  )
}

/** One's day in each plan; one that nobody has opened yet is laid out first. */
async function myPlans(): Promise<MyPlanOut[]> {
  const plans = await ask(getMyPlan())
  const open = plans.filter((plan) => !plan.is_laid_out)
  if (open.length === 0) return plans
  for (const plan of open) await ask(layOutMyDay({ path: { plan_id: plan.plan_id } }))
  return ask(getMyPlan())
}

function isToday(moment: number): boolean {
  return new Date(moment).toDateString() === new Date().toDateString()
}

/** The day as it was fetched last; practice goes on all the same. */
function Away({ error, retry }: { error: Error; retry: () => void }) {
  return (
    <p className="away" role="status">
      {t('today.thisIsYourDayAsCrumb', { reason: navigator.onLine ? said(error) : t('today.noNetwork') })}{' '}
      <Button size="small" onClick={retry}>
        {t('today.tryAgain')}
      </Button>
    </p>
  )
}

/** Work on what stood at tempo: it was so long ago that nobody takes it for granted. */
function isDueAgain(item: TodayItemOut): boolean {
  return item.level >= AT_TEMPO && !item.is_at_goal && !item.is_finished
}

function Line({ item }: { item: TodayItemOut }) {
  return (
    <li className={item.is_finished ? 'finished' : ''}>
      <Link to={`/stand/${item.item_id}`}>
        <LevelMark level={item.level} size={28} hasNumber={false} />
        <span className="what">
          <strong>{item.chunk}</strong> {item.drill}
          <small>
            {t('today.dueOfTitleDueOn', { title: item.title, dueOn: day(item.due_on) })}
            {item.role === 'upkeep' && t('today.toKeepGoing')}
            {item.note && `, ${item.note.toLowerCase()}`}
            {isDueAgain(item) && t('today.youHadThisAtTempoShow')}
          </small>
        </span>
        <span className="how-long">
          {item.is_finished
            ? t('today.done')
            : item.is_at_goal
              ? t('today.atGoal')
              : item.rests
                ? t('today.restsToday')
                : item.waits
                  ? t('today.anotherDay')
                  : item.minutes === 0
                    ? t('today.later')
                    : minutes(item.minutes * 60)}
          <small>{t('today.ofOfTempoGoalBpm', { tempo: bpm(item.tempo), goalBpm: bpm(item.goal_bpm) })}</small>
        </span>
      </Link>
    </li>
  )
}
