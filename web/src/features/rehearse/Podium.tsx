import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Checkbox } from 'antd'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { ask, said } from '../../api/ask'
import { endRehearsal, getRehearsal, sendHome, type RehearsalOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { useOnce } from '../../shared/hooks/once'
import { useSections } from '../../shared/hooks/part.queries'
import { clock, day, moment } from '../../shared/pure/time'
import { useKeys } from '../../shared/hooks/useKeys'
import { Failed, Loading } from '../../shared/ui/states'
import { Items } from './Items'
import { useCountdown } from './useCountdown'
import { t } from '../../words/words'
import { Say } from '../../words/Say'
import './rehearse.css'

/** A kept rehearsal: large on the podium, on one page in print, and what became of it. */
export default function Podium() {
  const { rehearsalId = '' } = useParams()
  const rehearsal = useQuery({
    queryKey: keys.rehearsal(rehearsalId),
    queryFn: () => ask(getRehearsal({ path: { rehearsal_id: rehearsalId } })),
  })
  if (rehearsal.isPending) return <Loading what={t('rehearse.loadingThePlan')} />
  if (rehearsal.isError) return <Failed error={rehearsal.error} retry={() => void rehearsal.refetch()} />
  return <View key={rehearsal.data.ended_at ?? ''} rehearsal={rehearsal.data} />
}

function View({ rehearsal }: { rehearsal: RehearsalOut }) {
  const [at, setAt] = useState<number | null>(null)
  const isOver = rehearsal.ended_at !== null
  return (
    <div className="page podium">
      <div className="page-head">
        <div>
          <h1>{rehearsal.title}</h1>
          <p className="lead">
            {t('rehearse.minutesOfDayMinutesValue', {
              day: day(rehearsal.day),
              minutes: rehearsal.minutes,
              section: rehearsal.section ? `, ${rehearsal.section}` : '',
            })}
          </p>
        </div>
        <span className="tool-group no-print">
          <Button onClick={() => window.print()}>{t('rehearse.print')}</Button>
          {!isOver && at === null && (
            <Button type="primary" size="large" onClick={() => setAt(0)}>
              {t('rehearse.onThePodium')}
            </Button>
          )}
        </span>
      </div>
      {at !== null && !isOver ? (
        <Running rehearsal={rehearsal} at={at} go={setAt} />
      ) : (
        <>
          <Items items={rehearsal.items} />
          {isOver ? <Home rehearsal={rehearsal} /> : <After rehearsal={rehearsal} />}
        </>
      )}
      <p className="no-print">
        <Link to="/rehearse">{t('rehearse.otherRehearsals')}</Link>
      </p>
    </div>
  )
}

/** One line at a time, large: what to do, what is next, minutes left. */
function Running({ rehearsal, at, go }: { rehearsal: RehearsalOut; at: number; go: (at: number | null) => void }) {
  const item = rehearsal.items[at]
  const next = rehearsal.items[at + 1]
  const left = useCountdown((item?.minutes ?? 0) * 60, at)
  const forward = () => go(at + 1 < rehearsal.items.length ? at + 1 : null)
  const back = () => go(Math.max(at - 1, 0))
  useKeys({ ArrowRight: forward, PageDown: forward, ArrowLeft: back, PageUp: back, Escape: () => go(null) })
  if (!item) return null
  return (
    <section className="now" aria-label={t('rehearse.now')}>
      <p className={left < 0 ? 'left over' : 'left'} role="timer">
        {left < 0 ? t('rehearse.over', { clock: clock(-left) }) : clock(left)}
      </p>
      <h2>{item.name}</h2>
      {item.drill && (
        <p className="drill">
          {item.drill.title}
          {item.tempo_bpm !== null && t('rehearse.atOfTempoBpm2', { tempoBpm: item.tempo_bpm })}
          {t('rehearse.inARow', { times: item.drill.times })}
        </p>
      )}
      <p className="do">{item.do}</p>
      {item.drill && <p className="muted">{t('rehearse.percussion', { percussion: item.drill.percussion })}</p>}
      {item.sections.length > 0 && <p className="muted">{item.sections.join(', ')}</p>}
      <p className="next">
        {next ? t('rehearse.nextMin', { name: next.name, minutes: next.minutes }) : t('rehearse.thisIsTheLastLine')}
      </p>
      <div className="podium-pad">
        <Button size="large" disabled={at === 0} onClick={back}>
          <Say it="rehearse.back" components={[<kbd />]} />
        </Button>
        <Button size="large" type="primary" onClick={forward}>
          {next ? t('rehearse.next') : t('rehearse.enterWhatYouDid')} <kbd>→</kbd>
        </Button>
      </div>
    </section>
  )
}

/** What was done, with two taps a line, and who was not there. */
function After({ rehearsal }: { rehearsal: RehearsalOut }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const sections = useSections()
  const [done, setDone] = useState<Record<string, number>>({})
  const [absent, setAbsent] = useState<string[]>(rehearsal.absent)
  const names = new Set(rehearsal.items.flatMap((item) => item.sections))
  const end = useMutation({
    mutationFn: () => ask(endRehearsal({ path: { rehearsal_id: rehearsal.id }, body: { done, absent } })),
    onSuccess: (ended) => {
      client.setQueryData(keys.rehearsal(rehearsal.id), ended)
      void client.invalidateQueries({ queryKey: keys.rehearsals, exact: true })
      for (const queryKey of [keys.score.all, keys.desk]) void client.invalidateQueries({ queryKey })
    },
    onError: (error) => void message.error(said(error)),
  })
  const work = rehearsal.items.map((item, place) => ({ item, place })).filter(({ item }) => item.drill)
  const roster = (sections.data ?? []).filter(
    (section) => rehearsal.section === null || section.name === rehearsal.section,
  )
  const here = roster.filter(
    (section) =>
      section.students.length > 0 && (names.size === 0 || names.has(section.name) || rehearsal.section !== null),
  )
  return (
    <section className="after no-print" aria-label={t('rehearse.whatYouDid')}>
      <h2>{t('rehearse.whatYouDid')}</h2>
      <p className="muted">{t('rehearse.enterHowOftenEachLineWent')}</p>
      <ul>
        {work.map(({ item, place }) => (
          <li key={place}>
            <span>
              <strong>{item.name}</strong> {item.drill?.title}
            </span>
            <span className="counts" role="group" aria-label={t('rehearse.timesInARow', { name: item.name })}>
              {Array.from({ length: (item.drill?.times ?? 0) + 1 }, (_, times) => (
                <button
                  key={times}
                  type="button"
                  aria-pressed={done[place] === times}
                  onClick={() => setDone(toggled(done, place, times))}
                >
                  {times === 0 ? t('rehearse.begun') : `${times}×`}
                </button>
              ))}
            </span>
          </li>
        ))}
      </ul>
      <details>
        <summary>
          {absent.length === 0
            ? t('rehearse.everybodyWasThere')
            : t('rehearse.absentOfAbsentCount', { absentCount: absent.length })}
        </summary>
        {here.map((section) => (
          <fieldset key={section.id}>
            <legend>{section.name}</legend>
            {section.students.map((student) => (
              <Checkbox
                key={student.id}
                checked={!absent.includes(student.id)}
                onChange={(event) =>
                  setAbsent(event.target.checked ? absent.filter((id) => id !== student.id) : [...absent, student.id])
                }
              >
                {student.name}
              </Checkbox>
            ))}
          </fieldset>
        ))}
      </details>
      <Button
        type="primary"
        loading={end.isPending}
        disabled={Object.keys(done).length === 0}
        onClick={() => end.mutate()}
      >
        {t('rehearse.saveIt')}
      </Button>
    </section>
  )
}

function toggled(done: Record<string, number>, place: number, times: number): Record<string, number> {
  const { [place]: before, ...rest } = done
  return before === times ? rest : { ...rest, [place]: times }
}

/** What each section takes home, and sending it. */
function Home({ rehearsal }: { rehearsal: RehearsalOut }) {
  const { message } = App.useApp()
  const once = useOnce()
  const send = useMutation({
    mutationFn: () =>
      once({ home: rehearsal.id }, (id) => ask(sendHome({ path: { rehearsal_id: rehearsal.id }, body: { id } }))),
    onError: (error) => void message.error(said(error)),
  })
  const sections = [...new Set(rehearsal.home.map((line) => line.section))]
  return (
    <section className="home-list" aria-label={t('rehearse.homeList')}>
      <h2>{t('rehearse.homeList')}</h2>
      {sections.length === 0 && <p>{t('rehearse.nothingIsLeftOpenYouFinished')}</p>}
      <ul>
        {sections.map((name) => (
          <li key={name}>
            <strong>{name}</strong>{' '}
            {rehearsal.home
              .filter((line) => line.section === name)
              .map((line) => t('rehearse.more', { place: line.place, drill: line.drill, left: line.left }))
              .join('; ')}
          </li>
        ))}
      </ul>
      {sections.length > 0 && !send.data && rehearsal.sent_home_at !== null && (
        <p className="muted">{t('rehearse.sentHome', { sentHomeAt: moment(rehearsal.sent_home_at) })}</p>
      )}
      {sections.length > 0 && !send.data && rehearsal.sent_home_at === null && (
        <Button className="no-print" type="primary" loading={send.isPending} onClick={() => send.mutate()}>
          {t('rehearse.sendItHome')}
        </Button>
      )}
      {send.data && (
        <ul role="status">
          {send.data.map((one, place) => (
            <li key={place}>
              {one.section}: {one.why_not || t('rehearse.sentTo', { students: one.students })}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
