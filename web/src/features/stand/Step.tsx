import { Button } from 'antd'
import type { StandOut, StepOut } from '../../api/gen'
import type { Climb } from '../../practice/climb'
import type { SyncQueue } from '../../practice/syncQueue'
import type { PracticeSession } from '../../practice/session'
import { TwoWays } from './TwoWays'
import type { LookAhead } from './useLookAhead'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

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
      <section className="stand-step" aria-label={t('stand.step')}>
        <p>
          <strong>{step.name}</strong>
          {worked.steps.length > 1 && (
            <span className="muted">
              {' '}
              {t('stand.stepOf', { step: climb.step + 1, stepsCount: worked.steps.length })}
            </span>
          )}
        </p>
        {step.say && <p className="say">{step.say}</p>}
        {step.pace !== 1 && (
          <p className="say">{t('stand.atOfTheTempoOnThe', { percent: Math.round(step.pace * 100) })}</p>
        )}
        <Pips
          count={climb.inARow}
          of={step.repetitions}
          word={step.slip === 'on' ? t('stand.played') : t('stand.inARow')}
        />
        {byHelper > 0 && <span className="muted">{t('stand.byYourHelper', { byHelper })}</span>}
        {lookAhead.hasHolds && (
          <span className="tool-group">
            <Button size="small" aria-pressed={lookAhead.isOn} onClick={lookAhead.toggle}>
              {t('stand.onlyWhatComesNext')}
            </Button>
            {lookAhead.isOn && (
              <Button size="small" onClick={lookAhead.goOn}>
                <Say it="stand.goOnN" components={[<kbd />]} />
              </Button>
            )}
          </span>
        )}
        {worked.steps.length > 1 && (
          <Button size="small" onClick={() => session.nextStep()}>
            <Say it="stand.nextStepWithKey" components={[<kbd />]} />
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
    <p className="pips" role="img" aria-label={t('stand.ofOfAmountOfWord', { amount: count, of, word })}>
      {Array.from({ length: of }, (_, i) => (
        <span key={i} className={i < count ? 'full' : ''} />
      ))}
      <em>{t('stand.ofOfAmountOfWord', { amount: count, of, word })}</em>
    </p>
  )
}
