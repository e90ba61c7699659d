import { ArrowLeftOutlined, QuestionCircleOutlined } from '@ant-design/icons'
import { Button, Modal } from 'antd'
import { useEffect, useMemo, useState, type MouseEvent } from 'react'
import type { Me, StandOut, StepOut } from '../../api/gen'
import type { Climb } from '../../practice/climb'
import { toNumber } from '../../shared/lib/fraction'
import { bpm, clock } from '../../shared/lib/time'
import { useKeys } from '../../shared/lib/useKeys'
import { LevelMark } from '../../shared/ui/LevelMark'
import { Score } from '../../shared/ui/Score'
import { Clicker } from './Clicker'
import { JumpQuestion, Notices } from './Notices'
import { TwoWays } from './TwoWays'
import { useMetronome } from './useMetronome'
import { usePractice } from './usePractice'
import { useSeconds } from './useSeconds'

interface Props {
  me: Me
  stand: StandOut
  leave: () => void
}

export function StandView({ me, stand, leave }: Props) {
  const { worked } = stand
  const practice = usePractice(me, stand)
  const { climb, tempo, session } = practice
  const step = worked.steps[climb.step] ?? worked.steps[0]
  const [isOffBeat, setOffBeat] = useState(false)
  const [hasCountIn, setCountIn] = useState(true)
  const [hasHelp, setHelp] = useState(false)
  const click = step?.click ?? '1'
  const clickAt = step?.click_at ?? '0'
  const pace = step?.pace ?? 1
  const plan = useMemo(
    () => ({
      tempo: tempo * pace,
      beat: toNumber(worked.beat),
      click: toNumber(click),
      clickAt: toNumber(clickAt),
      clicks: (step?.clicks ?? []).map(toNumber),
      quarters: toNumber(step?.quarters ?? '0'),
      countIn: hasCountIn ? worked.count_in.map(toNumber) : [],
      isOffBeat,
    }),
    [tempo, pace, worked.beat, worked.count_in, step, click, clickAt, hasCountIn, isOffBeat],
  )
  const metronome = useMetronome(plan)
  const keys = {
    ' ': metronome.toggle,
    ArrowRight: () => session.play(true),
    PageDown: () => session.play(true),
    ArrowLeft: () => session.play(false),
    PageUp: () => session.play(false),
    ArrowUp: () => session.changeTempo(1),
    ArrowDown: () => session.changeTempo(-1),
    Enter: () => session.nextStep(),
    u: () => session.undo(),
    '?': () => setHelp(true),
    Escape: leave,
  }
  useKeys(keys)
  useAwake()
  const seconds = useSeconds(practice.canUndo || metronome.isRunning)
  if (!step) return null
  return (
    <div className="stand" onClick={backToKeys}>
      <header className="stand-head">
        <Button type="text" icon={<ArrowLeftOutlined />} aria-label="Back to today" onClick={leave} />
        <h1>
          {stand.item.chunk} <small>{worked.title}</small>
        </h1>
        <LevelMark level={practice.level} />
        <Button type="text" icon={<QuestionCircleOutlined />} aria-label="Keys and cautions" onClick={() => setHelp(true)} />
      </header>
      <section className="stand-music" aria-label="Music">
        {step.svg === null ? (
          <p className="on-paper">
            <span>From your own part</span>
            <span>{/[–.]/.test(step.place) ? 'measures' : 'measure'}</span>
            <strong>{step.place}</strong>
            <span>{stand.item.part}</span>
          </p>
        ) : (
          <Score svg={step.svg} label={`${stand.item.chunk}, ${step.name}, engraved`} />
        )}
      </section>
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
        {pace !== 1 && <p className="say">At {Math.round(pace * 100)} % of the tempo on the ladder.</p>}
        <Pips count={climb.inARow} of={step.repetitions} word={step.slip === 'on' ? 'played' : 'in a row'} />
        {worked.steps.length > 1 && (
          <Button size="small" onClick={() => session.nextStep()}>
            Next step <kbd>↵</kbd>
          </Button>
        )}
      </section>
      {worked.drill === 'two-ways' && <TwoWays itemId={stand.item.item_id} step={climb.step} isHandedIn={practice.unsent === 0} />}
      <div className="finish">
        <p className="told" role="status">
          {tell(climb, step, practice.hasClick)}
        </p>
        {climb.isFinished ? (
          <Button type="primary" onClick={leave}>
            On to the next
          </Button>
        ) : (
          <Timer seconds={seconds} planned={Math.round(stand.item.minutes * 60)} />
        )}
      </div>
      <Notices unsent={practice.unsent} refused={practice.refused} forget={practice.forget} doubted={practice.doubted} />
      {practice.isJump && <JumpQuestion session={session} reason={practice.reason} />}
      <Clicker
        tempo={tempo}
        goal={stand.item.goal_bpm}
        rungs={worked.rungs}
        metronome={metronome}
        changeTempo={(by) => session.changeTempo(by)}
        hasClick={practice.hasClick}
        useClick={(on) => session.useClick(on)}
        isOffBeat={isOffBeat}
        setOffBeat={setOffBeat}
        hasCountIn={hasCountIn}
        setCountIn={setCountIn}
      />
      <section className="pad" aria-label="Count a repetition">
        <button type="button" className="slip" onClick={() => session.play(false)}>
          Slip <kbd>←</kbd>
        </button>
        <button type="button" className="undo" onClick={() => session.undo()} disabled={!practice.canUndo}>
          Undo <kbd>U</kbd>
        </button>
        <button type="button" className="clean" onClick={() => session.play(true)}>
          Clean <kbd>→</kbd>
        </button>
      </section>
      <Help isOpen={hasHelp} close={() => setHelp(false)} stand={stand} />
    </div>
  )
}

/** After a tap or a click the keys are the Stand's again; who walks by Tab keeps the focus. */
function backToKeys(event: MouseEvent) {
  if (event.detail > 0 && document.activeElement instanceof HTMLElement) document.activeElement.blur()
}

/** Time on this drill against its share of today; when it is up, one goes on and comes back another day. */
function Timer({ seconds, planned }: { seconds: number; planned: number }) {
  if (planned === 0) return <p className="timer">{clock(seconds)}</p>
  const isOver = seconds >= planned
  return (
    <p className={isOver ? 'timer over' : 'timer'} aria-label="Time on this drill">
      {clock(seconds)} of {clock(planned)}
      {isOver && ': time to move on'}
    </p>
  )
}

function Pips({ count, of, word }: { count: number; of: number; word: string }) {
  return (
    <p className="pips" aria-label={`${count} of ${of} ${word}`}>
      {Array.from({ length: of }, (_, i) => (
        <span key={i} className={i < count ? 'full' : ''} />
      ))}
      <em>
        {count} of {of} {word}
      </em>
    </p>
  )
}

function tell(climb: Climb, step: StepOut, hasClick: boolean): string {
  switch (climb.told) {
    case 'up':
      return `A clean cycle. Up to ${bpm(climb.tempo)}.`
    case 'down':
      return `Down to ${bpm(climb.tempo)}. Let it settle there.`
    case 'again':
      return 'Once more: start the count over.'
    case 'step':
      return 'That one is sure. Now the next step.'
    case 'pause':
      return 'After a pause, start the count over.'
    case 'attempt':
      return hasClick ? 'Kept as an attempt.' : 'Kept; without a click it proves no tempo.'
    case 'finished':
      return 'At goal, clean. This one is done.'
    default:
      if (climb.inARow > 0) return ''
      return step.slip === 'on' ? `${step.repetitions} times; a slip counts too.` : `${step.repetitions} clean in a row.`
  }
}

/** Keep the screen on while the music stands there, where the browser can. */
function useAwake() {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null
    if ('wakeLock' in navigator) {
      navigator.wakeLock.request('screen').then(
        (got) => {
          lock = got
        },
        () => undefined,
      )
    }
    return () => void lock?.release()
  }, [])
}

const KEYS: [string, string][] = [
  ['Space', 'click on and off'],
  ['→ or pedal forward', 'clean'],
  ['← or pedal back', 'slip'],
  ['↑ ↓', 'tempo'],
  ['Enter', 'next step'],
  ['U', 'undo'],
  ['Esc', 'back to today'],
]

function Help({ isOpen, close, stand }: { isOpen: boolean; close: () => void; stand: StandOut }) {
  return (
    <Modal open={isOpen} onCancel={close} footer={null} title="Keys, and what counts">
      <dl className="keys">
        {KEYS.map(([key, act]) => (
          <div key={key}>
            <dt>
              <kbd>{key}</kbd>
            </dt>
            <dd>{act}</dd>
          </div>
        ))}
      </dl>
      <p>
        <strong>Clean means:</strong> {stand.clean_means}
      </p>
      <p>
        <strong>On a slip:</strong> {stand.on_slip}
      </p>
      <p>
        <strong>→ after a place:</strong> run into the next note and stop on it.
      </p>
      {stand.caution && <p>{stand.caution}</p>}
      <p className="caution">
        Pain, numbness or tingling: stop, rest, and tell your teacher; a clinician decides what it is. Keep the click
        low in headphones.
      </p>
    </Modal>
  )
}
