import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { ask } from '../../api/ask'
import { getMyDiary, type Me } from '../../api/gen'
import { keys } from '../../api/keys'
import { proudOf } from '../../practice/practiceDay'
import { categoryName } from '../../shared/lib/categories'
import { write } from '../../shared/lib/diary'
import { readPracticeDay } from '../../shared/lib/practiceDayStore'
import { bpm, clock } from '../../shared/lib/time'
import { useSyncQueue } from '../../shared/lib/useSyncQueue'
import { SyncStatus } from '../../shared/ui/SyncStatus'
import './today.css'

/** The end of a day: what moved, one sentence to be proud of, two lines for the week. */
export default function Done({ me }: { me: Me }) {
  const { queue } = useSyncQueue(me)
  const { did } = readPracticeDay(me.name)
  const proud = proudOf(did)
  return (
    <div className="page narrow">
      <h1>Done for today</h1>
      {proud && <p className="proud">{proud}</p>}
      {did.length === 0 && <p className="lead">Nothing was counted on this device today.</p>}
      {did.length > 0 && (
        <table className="plain">
          <caption>What moved</caption>
          <thead>
            <tr>
              <th>Chunk</th>
              <th>Tempo</th>
              <th>Level</th>
              <th>Clean</th>
            </tr>
          </thead>
          <tbody>
            {did.map((one) => (
              <tr key={one.itemId}>
                <th scope="row">
                  {one.chunk.replace('→', '')} <small>{one.drill}</small>
                </th>
                <td>
                  {one.fromTempo === one.toTempo ? bpm(one.toTempo) : `${bpm(one.fromTempo)} to ${bpm(one.toTempo)}`}
                </td>
                <td>{one.fromLevel === one.toLevel ? one.toLevel : `${one.fromLevel} to ${one.toLevel}`}</td>
                <td>
                  {one.clean} of {one.clean + one.slips}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Minutes />
      <Journal save={(what, hard) => write(queue, { kind: 'journal', what, hard })} />
      <SyncStatus me={me} day={{ kept: 0, of: 0 }} />
      <Link to="/">Back to today</Link>
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
      In eight weeks: {spent.map(([category, seconds]) => `${categoryName(category)} ${clock(seconds)}`).join(', ')}.
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
      <h2>Two lines this week</h2>
      <label>
        What I worked on
        <input value={what} maxLength={300} onChange={(event) => setWhat(event.target.value)} />
      </label>
      <label>
        What is hard
        <input value={hard} maxLength={300} onChange={(event) => setHard(event.target.value)} />
      </label>
      <Button htmlType="submit" disabled={!what.trim() && !hard.trim()}>
        Into my diary
      </Button>
      {isKept && <p role="status">In your diary; your teacher can read it.</p>}
    </form>
  )
}
