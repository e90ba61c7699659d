import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button } from 'antd'
import { Link, Navigate } from 'react-router'
import { ask, said } from '../../api/ask'
import { getDesk, getOutlook, putOff, type DateAheadOut, type DeskLineOut, type DeskOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { usePieces } from '../../shared/hooks/part.queries'
import { day, inDays } from '../../shared/pure/time'
import { Failed, Loading } from '../../shared/ui/states'
import { Suggested } from './Suggested'
import { t } from '../../words/words'
import './desk.css'

const KINDS: Record<DeskLineOut['kind'], string> = {
  hurts: t('desk.pain'),
  refused: t('desk.notHandedIn'),
  takes: t('desk.toHear'),
  owed: t('desk.toHandIn'),
  stuck: t('desk.stuck'),
  idle: t('desk.idle'),
  fading: t('desk.fading'),
}

/** What needs a director today: a few lines, each with its reason and the way to act. */
export default function Desk() {
  const desk = useQuery({ queryKey: keys.desk, queryFn: () => ask(getDesk()) })
  const pieces = usePieces()
  if (desk.isPending || pieces.isPending) return <Loading what={t('desk.loadingYourDesk')} />
  if (desk.isError) return <Failed error={desk.error} retry={() => void desk.refetch()} />
  if (pieces.data?.length === 0) return <Navigate to="/music" replace />
  return (
    <div className="page">
      <h1>{t('desk.desk')}</h1>
      <div className="desk">
        <section aria-label={t('desk.whatNeedsYouToday')}>
          <Lines desk={desk.data} />
        </section>
        <aside>
          <Suggested dates={desk.data.dates} pieces={pieces.data ?? []} />
          <Dates dates={desk.data.dates} />
        </aside>
      </div>
    </div>
  )
}

function Lines({ desk }: { desk: DeskOut }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const later = useMutation({
    mutationFn: ({ line, until }: { line: DeskLineOut; until: string }) =>
      ask(putOff({ body: { line: line.key, until } })),
    onSuccess: (_, { line, until }) => {
      void client.invalidateQueries({ queryKey: keys.desk })
      if (until === inDays(0)) return
      const back = (
        <Button size="small" type="link" onClick={() => later.mutate({ line, until: inDays(0) })}>
          {t('desk.undo')}
        </Button>
      )
      void message.success(
        <>
          {t('desk.putOffUntil', { until: day(until) })} {back}
        </>,
        6,
      )
    },
    onError: (error) => void message.error(said(error)),
  })
  return (
    <>
      {desk.lines.length === 0 && <p className="lead">{t('desk.nothingNeedsYouTodayGoAnd')}</p>}
      <ul className="desk-lines">
        {desk.lines.map((line) => (
          <li key={line.key} className={line.kind}>
            <span className="kind">{KINDS[line.kind]}</span>
            <div>
              <strong>{line.say}</strong>
              <p className="muted">{line.why}</p>
            </div>
            <span className="tool-group">
              <Act line={line} />
              <Button
                size="small"
                type="text"
                disabled={later.isPending}
                onClick={() => later.mutate({ line, until: inDays(3) })}
                aria-label={t('desk.putOffOfSay', { say: line.say })}
                title={t('desk.putOffForThreeDays')}
              >
                {t('desk.later')}
              </Button>
            </span>
          </li>
        ))}
      </ul>
      {desk.more > 0 && <p className="muted">{t('desk.moreLinesOfTheseKindsMove', { more: desk.more })}</p>}
      {desk.put_off > 0 && <p className="muted">{t('desk.putOffOfPutOff', { putOff: desk.put_off })}</p>}
    </>
  )
}

/** Where a line leads: to the place on the Wall with its evidence, else to the person. */
function Act({ line }: { line: DeskLineOut }) {
  if (line.kind === 'hurts' || line.kind === 'refused') return <Link to="/wall">{t('desk.readWhatTheySaid')}</Link>
  if (line.kind === 'takes' && line.part_id && line.chunk_id)
    return (
      <Link to={`/hearing?part=${line.part_id}&chunk=${line.chunk_id}&student=${line.student_ids[0] ?? ''}`}>
        {t('desk.hearThem')}
      </Link>
    )
  if (line.kind === 'owed') return <Link to="/hearing#asked">{t('desk.seeWhichStudents')}</Link>
  if (line.kind === 'stuck' && line.part_id && line.chunk_id) {
    return line.students.length > 1 ? (
      <Link to={`/parts/${line.part_id}/bench?chunk=${line.chunk_id}`}>{t('desk.sendAnotherDrill')}</Link>
    ) : (
      <Link to={`/wall?part=${line.part_id}&student=${line.student_ids[0]}&chunk=${line.chunk_id}`}>
        {t('desk.seeWhereItSlips')}
      </Link>
    )
  }
  if (line.part_id) return <Link to={`/wall?part=${line.part_id}`}>{t('desk.seeItOnTheWall')}</Link>
  return <Link to="/people">{t('desk.openPeople')}</Link>
}

/** Days left to each date, and the chances, which take a moment to count. */
function Dates({ dates }: { dates: DateAheadOut[] }) {
  const outlook = useQuery({
    queryKey: keys.outlook,
    queryFn: () => ask(getOutlook()),
    enabled: dates.length > 0,
  })
  if (dates.length === 0) return null
  const known = new Map(outlook.data?.plans.map((one) => [one.id, one]))
  return (
    <section aria-label={t('desk.dates')}>
      <h2>{t('desk.dates')}</h2>
      <ul className="dates">
        {dates.map((date) => {
          const chance = known.get(date.plan_id)
          return (
            <li key={date.plan_id}>
              <Link to={`/plans/${date.plan_id}`}>
                <strong>
                  {date.days === 0 ? t('desk.today') : `${date.days} ${t('desk.days', { count: date.days })}`}
                </strong>{' '}
                {date.piece}, {date.section}
              </Link>
              <small className="muted">
                {day(date.on)}
                {outlook.isPending && t('desk.workingOutTheChances')}
                {chance && t('desk.ofLikelyReady', { likely: chance.likely, students: chance.students })}
                {chance?.bottleneck && t('desk.heldUpBy', { bottleneck: chance.bottleneck.replace('→', '') })}
              </small>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
