import { Link } from 'react-router'
import type { OwedOut, AskedPassageOut, ThingOut } from '../../api/gen'
import { day } from '../pure/time'
import { passageName } from '../pure/passages'
import { t } from '../../words/words'

const STATES: Record<ThingOut['state'], string> = {
  open: '',
  short: t('shared.handedInButTooShort'),
  waiting: t('shared.beingPrepared'),
  done: t('shared.handedIn'),
}

/** What one is asked to hand in; of several passages any one will do. */
export function Asked({ asked }: { asked: OwedOut[] }) {
  if (asked.length === 0) return null
  return (
    <section className="asked" aria-label={t('shared.askedFor')}>
      <h2>{t('shared.askedFor')}</h2>
      {asked.map((task) => (
        <div key={task.id}>
          <p>
            {t('shared.by', { dueOn: day(task.due_on) })}
            {task.is_closed && t('shared.allHandedIn')}
          </p>
          <ul>
            {task.things.map((thing) => (
              <li key={thing.either[0]?.chunk_id} className={thing.state}>
                <span aria-hidden="true">{thing.state === 'done' ? '✓' : '○'}</span>
                <span>
                  {thing.either.map((passage, i) => (
                    <span key={passage.chunk_id}>
                      {i > 0 && t('shared.or')}
                      <ToRecord passage={passage} />
                    </span>
                  ))}
                  {STATES[thing.state] && <small className="muted"> · {STATES[thing.state]}</small>}
                </span>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  )
}

function ToRecord({ passage }: { passage: AskedPassageOut }) {
  return (
    <>
      <Link to={`/takes?part=${passage.part_id}&chunk=${passage.chunk_id}`}>{passageName(passage)}</Link>
      <small className="muted">{t('shared.sOrMore', { leastSeconds: passage.least_seconds })}</small>
    </>
  )
}

/** On Today: how much is still to be handed in, and by when. */
export function ToHandIn({ asked }: { asked: OwedOut[] }) {
  const open = asked.filter((task) => !task.is_closed)
  const first = open[0]
  if (!first) return null
  const count = open
    .flatMap((task) => task.things)
    .filter((thing) => thing.state === 'open' || thing.state === 'short').length
  if (count === 0) return null
  return (
    <p className="to-hand-in">
      <Link to="/takes">{t('shared.takesToHandIn', { count })}</Link>
      {t('shared.theFirstBy', { dueOn: day(first.due_on) })}
    </p>
  )
}
