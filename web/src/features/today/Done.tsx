import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { ask } from '../../api/ask'
import { getMyDiary, type Me } from '../../api/gen'
import { keys } from '../../api/keys'
import { proudOf } from '../../practice/practiceDay'
import { categoryName } from '../../shared/pure/categories'
import { write } from '../../shared/hooks/diary'
import { readPracticeDay } from '../../shared/hooks/practiceDayStore'
import { bpm, clock } from '../../shared/pure/time'
import { useSyncQueue } from '../../shared/hooks/useSyncQueue'
import { SyncStatus } from '../../shared/ui/SyncStatus'
import { t } from '../../words/words'
import './today.css'

/** The end of a day: what moved, one sentence to be proud of, two lines for the week. */
export default function Done({ me }: { me: Me }) {
  const { queue } = useSyncQueue(me)
  const { did } = readPracticeDay(me.name)
  const proud = proudOf(did)
  return (
    <div className="page narrow">
      <h1>{t('today.doneForToday')}</h1>
      {proud && <p className="proud">{proud}</p>}
      {did.length === 0 && <p className="lead">{t('today.youCountedNothingOnThisDevice')}</p>}
      {did.length > 0 && (
        <table className="plain">
          <caption>{t('today.whatMoved')}</caption>
          <thead>
            <tr>
              <th>{t('today.chunk')}</th>
              <th>{t('today.tempo')}</th>
              <th>{t('today.level')}</th>
              <th>{t('today.clean')}</th>
            </tr>
          </thead>
          <tbody>
            {did.map((one) => (
              <tr key={one.itemId}>
                <th scope="row">
                  {one.chunk.replace('→', '')} <small>{one.drill}</small>
                </th>
                <td>
                  {one.fromTempo === one.toTempo
                    ? bpm(one.toTempo)
                    : t('today.toOfFromTempoToTempo', { fromTempo: bpm(one.fromTempo), toTempo: bpm(one.toTempo) })}
                </td>
                <td>
                  {one.fromLevel === one.toLevel
                    ? one.toLevel
                    : t('today.toOfFromLevelToLevel', { fromLevel: one.fromLevel, toLevel: one.toLevel })}
                </td>
                <td>{t('today.ofOfCleanValue', { clean: one.clean, played: one.clean + one.slips })}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Minutes />
      <Journal save={(what, hard) => write(queue, { kind: 'journal', what, hard })} />
      <SyncStatus me={me} day={{ kept: 0, of: 0 }} />
      <Link to="/">{t('today.backToToday')}</Link>
    </div>
  )
}

/** Minutes by category over the last weeks; playing is welcome and is no practice. */
function Minutes() {
  const diary = useQuery({ queryKey: keys.myDiary, queryFn: () => ask(getMyDiary()) })
  const spent = Object.entries(diary.data?.seconds ?? {})
  if (spent.length === 0) return null
  return (
    <p className="muted">
      {t('today.inEightWeeks', {
        spent: spent.map(([category, seconds]) => `${categoryName(category)} ${clock(seconds)}`).join(', '),
      })}
    </p>
  )
}

function Journal({ save }: { save: (what: string, hard: string) => void }) {
  const [what, setWhat] = useState('')
  const [hard, setHard] = useState('')
  const [isKept, setKept] = useState(false)
  return (
    <form
      className="journal"
      onSubmit={(event) => {
        event.preventDefault()
        save(what.trim(), hard.trim())
        setWhat('')
        setHard('')
        setKept(true)
      }}
    >
      <h2>{t('today.twoLinesAboutThisWeek')}</h2>
      <label>
        {t('today.whatIWorkedOn')}
        <input value={what} maxLength={300} onChange={(event) => setWhat(event.target.value)} />
      </label>
      <label>
        {t('today.whatIsHard')}
        <input value={hard} maxLength={300} onChange={(event) => setHard(event.target.value)} />
      </label>
      <Button htmlType="submit" disabled={!what.trim() && !hard.trim()}>
        {t('today.saveToMyDiary')}
      </Button>
      {isKept && <p role="status">{t('today.savedInYourDiaryYourTeacher')}</p>}
    </form>
  )
}
