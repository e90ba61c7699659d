import { Button } from 'antd'
import type { StandOut, StepOut } from '../../api/gen'
import type { Climb } from '../../practice/climb'
import type { SyncQueue } from '../../practice/syncQueue'
import type { PracticeSession } from '../../practice/session'
import { TwoWays } from './TwoWays'
import type { LookAhead } from './useLookAhead'

interface Props {
  stand: StandOut
  step: StepOut
  climb: Climb
  byHelper: number
  session: PracticeSession
  queue: SyncQueue
  lookAhead: LookAhead
}

/** What is played now, how often it was clean, and the way to the next step. */
export function Step({ stand, step, climb, byHelper, session, queue, lookAhead }: Props) {
  const { worked, item } = stand
  return (
    <>
      <section className="stand-step" aria-label="Step">
        <p>
          <strong>{step.name}</strong>
          {worked.steps.length > 1 && (
            <span className="muted">
              {' '}
              step {climb.step + 1} of {worked.steps.length}
            </span>
          )}
        </p>
        {step.say && <p className="say">{step.say}</p>}
        {step.pace !== 1 && <p className="say">At {Math.round(step.pace * 100)} % of the tempo on the ladder.</p>}
        <Pips count={climb.inARow} of={step.repetitions} word={step.slip === 'on' ? 'played' : 'in a row'} />
        {byHelper > 0 && <span className="muted">{byHelper} by your helper</span>}
        {lookAhead.hasHolds && (
          <span className="tool-group">
            <Button size="small" aria-pressed={lookAhead.isOn} onClick={lookAhead.toggle}>
              Only what comes next
            </Button>
            {lookAhead.isOn && (
              <Button size="small" onClick={lookAhead.goOn}>
                Go on <kbd>N</kbd>
              </Button>
            )}
          </span>
        )}
        {worked.steps.length > 1 && (
          <Button size="small" onClick={() => session.nextStep()}>
            Next step <kbd>↵</kbd>
          </Button>
        )}
      </section>
      {worked.drill === 'two-ways' && (
        <TwoWays itemId={item.item_id} step={climb.step} isHandedIn={queue.snapshot().unsent === 0} />
      )}
    </>
  )
}

function Pips({ count, of, word }: { count: number; of: number; word: string }) {
  return (
    <p className="pips" role="img" aria-label={`${count} of ${of} ${word}`}>
      {Array.from({ length: of }, (_, i) => (
        <span key={i} className={i < count ? 'full' : ''} />
      ))}
      <em>
        {count} of {of} {word}
      </em>
    </p>
  )
}
