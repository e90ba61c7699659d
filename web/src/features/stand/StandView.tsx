import { ArrowLeftOutlined, QuestionCircleOutlined, SettingOutlined } from '@ant-design/icons'
import { Button } from 'antd'
import { useEffect, useMemo, useState, type MouseEvent } from 'react'
import { useNavigate } from 'react-router'
import type { Me, PositionOut, StandOut } from '../../api/gen'
import { promptNow } from '../../practice/prompts'
import { keepSettings, readSettings, type StandSettings } from '../../practice/settings'
import { isBreakDue, lineOf, rested, withLine } from '../../practice/practiceDay'
import { chime } from '../../sound/chime'
import { countInOf, roundOf } from '../../sound/strokes'
import { write } from '../../shared/hooks/diary'
import { lineBefore, keepPracticeDay, readPracticeDay } from '../../shared/hooks/practiceDayStore'
import { clock } from '../../shared/pure/time'
import { useKeys } from '../../shared/hooks/useKeys'
import { SyncStatus } from '../../shared/ui/SyncStatus'
import { LevelMark } from '../../shared/ui/LevelMark'
import { Clicker } from './Clicker'
import { DiaryLines } from './Diary'
import { Feel } from './Feel'
import { Help } from './Help'
import { Listen, useListening } from './Listen'
import { meterOf } from './meterOf'
import { Music } from './Music'
import { noteAt } from './noteAt'
import { Doubts, JumpQuestion } from './Notices'
import { Otherwise } from './Otherwise'
import { Pad } from './Pad'
import { Pulse, PulseCheck } from './Pulse'
import { RunThrough, useRun } from './RunThrough'
import { Settings } from './Settings'
import { SlipTold } from './SlipTold'
import { Step } from './Step'
import { StopStart, useFragments } from './StopStart'
import { tell } from './tell'
import { Timer } from './Timer'
import { useAwake } from './useAwake'
import { useHands } from './useHands'
import { useLookAhead } from './useLookAhead'
import { useMetronome } from './useMetronome'
import { usePractice } from './usePractice'
import { useSeconds } from './useSeconds'
import { useWhere } from './useWhere'
import { t } from '../../words/words'

type Mode = 'practise' | 'run' | 'fragments' | 'pleasure'

const MODES: [Mode, string][] = [
  ['practise', t('stand.practice')],
  ['run', t('stand.runThrough')],
  ['fragments', t('stand.stopAndStart')],
  ['pleasure', t('stand.justPlay')],
]

/** Ways to play; a drill that stops and starts has its fragments as steps. */
const modesOf = (drill: string) => MODES.filter(([name]) => name !== 'fragments' || drill !== 'stop-and-start')

interface Props {
  me: Me
  stand: StandOut
  leave: () => void
  /** Something was counted: what the server says of this drill does not replace it any more. */
  onBegun: () => void
}

export function StandView({ me, stand, leave, onBegun }: Props) {
  const { worked, item } = stand
  const navigate = useNavigate()
  const practice = usePractice(me, stand)
  const { climb, tempo, session, queue } = practice
  const step = worked.steps[climb.step] ?? worked.steps[0]
  const where = useWhere(item.item_id, practice.level)
  const [settings, setSettings] = useState<StandSettings>(readSettings)
  const [mode, setMode] = useState<Mode>('practise')
  const [open, setOpen] = useState<'help' | 'settings' | 'feel' | null>(null)
  const [isBored, setBored] = useState(false)
  const [isStallSeen, setStallSeen] = useState(false)
  const [isBreak, setBreak] = useState(() => isBreakDue(readPracticeDay(me.name)))
  const change = (more: Partial<StandSettings>) => {
    const next = { ...settings, ...more }
    setSettings(next)
    keepSettings(next)
  }
  const { click, hasAccents, hasCountIn, volume } = settings
  const plan = useMemo(() => {
    const meter = meterOf(stand, step)
    return {
      tempo: tempo * (step?.pace ?? 1),
      beat: meter.beat,
      round: roundOf(meter, click, hasAccents),
      countIn: hasCountIn ? countInOf(meter) : [],
      volume,
    }
  }, [stand, step, tempo, click, hasAccents, hasCountIn, volume])
  const metronome = useMetronome(plan)
  const listening = useListening(worked, step, tempo)
  const running = useRun(session)
  const fragments = useFragments(item.item_id, step, queue)
  const count = practice.played.length
  const isActive =
    metronome.isRunning || listening.isRunning || practice.canUndo || mode === 'pleasure' || running.run !== null
  const category =
    mode === 'pleasure'
      ? 'pleasure'
      : mode === 'run'
        ? 'run-through'
        : (where?.category ?? (item.role === 'upkeep' ? 'keep' : 'focus'))
  const seconds = useSeconds(
    me,
    queue,
    category,
    item.item_id,
    isActive,
    `${count} ${metronome.count} ${listening.noteId ?? ''} ${fragments.times} ${mode}`,
  )
  const begun = count > 0
  const lookAhead = useLookAhead(
    worked.drill === 'stops' && step !== undefined && !step.as_written,
    `${count} ${climb.step}`,
  )
  useEffect(() => {
    if (begun) onBegun()
  }, [begun, onBegun])
  const act = {
    clean: () =>
      mode === 'fragments'
        ? fragments.once()
        : mode === 'run'
          ? running.run
            ? running.end()
            : running.begin()
          : mode === 'practise' && session.play(true),
    slip: () => (mode === 'run' ? running.slip() : mode === 'practise' && session.play(false)),
  }
  const trouble = useHands(settings, act, listening.isRunning)
  const toggleClick = () => {
    if (listening.isRunning) listening.stop()
    metronome.toggle()
  }
  useKeys({
    ' ': toggleClick,
    ArrowRight: act.clean,
    PageDown: act.clean,
    ArrowLeft: act.slip,
    PageUp: act.slip,
    ArrowUp: () => session.changeTempo(1),
    ArrowDown: () => session.changeTempo(-1),
    Enter: () => session.nextStep(),
    u: () => session.undo(),
    p: listening.toggle,
    n: lookAhead.goOn,
    '?': () => setOpen('help'),
    Escape: leave,
  })
  useAwake()
  const [before] = useState(() => lineBefore(readPracticeDay(me.name), item.item_id))
  const { played, level } = practice
  useEffect(() => {
    if (played.length === 0) return
    const line = {
      id: item.item_id,
      chunk: item.chunk,
      drill: worked.title,
      tempo: stand.climb.tempo,
      level: item.level,
    }
    keepPracticeDay(me.name, withLine(readPracticeDay(me.name), lineOf(line, session.snapshot(), before)))
  }, [session, played, level, me.name, item, worked.title, stand.climb.tempo, before])
  const planned = Math.round((where?.minutes ?? item.minutes) * 60)
  const isTimeUp = planned > 0 && seconds >= planned && !climb.isFinished
  useEffect(() => {
    if (isTimeUp) void chime().catch(() => undefined)
  }, [isTimeUp])
  if (!step) return null
  const prompt = promptNow(settings.prompts, worked.family, count, !metronome.isRunning)
  const stalledAt = isStallSeen ? null : practice.stalledAt
  const isSlipOpen = mode === 'practise' && practice.played.at(-1)?.isClean === false
  const marked: PositionOut[] =
    mode === 'run' ? (running.run?.slips ?? running.last?.slips ?? []) : practice.slip.at ? [practice.slip.at] : []
  const goOn = () =>
    where?.next
      ? void navigate(`/stand/${where.next.itemId}`, { replace: true })
      : void navigate('/done', { replace: true })
  return (
    <div className={`stand mode-${mode}`} onClick={backToKeys}>
      <header className="stand-head">
        <Button type="text" icon={<ArrowLeftOutlined />} aria-label={t('stand.backToToday')} onClick={leave} />
        <h1>
          {item.chunk} <small>{worked.title}</small>
        </h1>
        <LevelMark level={practice.level} />
        <Button type="text" onClick={() => setOpen('feel')}>
          {t('stand.body')}
        </Button>
        <Button
          type="text"
          icon={<SettingOutlined />}
          aria-label={t('stand.settings')}
          aria-pressed={open === 'settings'}
          onClick={() => setOpen(open === 'settings' ? null : 'settings')}
        />
        <Button
          type="text"
          icon={<QuestionCircleOutlined />}
          aria-label={t('stand.keysAndCautions')}
          onClick={() => setOpen('help')}
        />
      </header>
      <Music
        stand={stand}
        step={step}
        noteId={settings.hasMark ? (listening.isRunning ? listening.noteId : noteAt(step, metronome.beat)) : null}
        ahead={lookAhead.ahead}
        marked={marked}
        onNote={(at) =>
          mode === 'run'
            ? running.mark(at)
            : lookAhead.ahead !== null && !isSlipOpen
              ? lookAhead.goOn()
              : session.tellSlip({ at })
        }
      />
      <div className="stand-side">
        {settings.isVisual && metronome.isRunning && <Pulse metronome={metronome} />}
        <div className="modes" role="group" aria-label={t('stand.whatIsThisTimeFor')}>
          {modesOf(worked.drill).map(([name, label]) => (
            <button
              key={name}
              type="button"
              aria-pressed={mode === name}
              disabled={mode !== name && isLocked(mode, count, climb.isFinished, running.run !== null)}
              onClick={() => setMode(name)}
            >
              {label}
            </button>
          ))}
        </div>
        {where && !begun && (
          <p className="where muted">
            {t('stand.ofToday', { place: where.place, of: where.of })}
            {where.why && `. ${where.why}`}
          </p>
        )}
        {mode !== 'pleasure' && (
          <Step
            stand={stand}
            step={step}
            climb={climb}
            byHelper={practice.byHelper}
            session={session}
            queue={queue}
            lookAhead={lookAhead}
          />
        )}
        {mode === 'practise' && (
          <div className="finish">
            <p className="told" role="status">
              {tell(climb, step, practice.hasClick, worked.way)}
            </p>
            {!climb.isFinished && <Timer seconds={seconds} planned={planned} />}
            {climb.isFinished && (
              <Button type="primary" onClick={goOn}>
                {where?.next ? t('stand.onToTheNext') : t('stand.toTheEndOfToday')}
              </Button>
            )}
          </div>
        )}
        {mode === 'practise' && where?.next && isTimeUp && (
          <p className="next-up">
            <Button size="small" onClick={goOn}>
              {t('stand.next', { name: where.next.name })}
            </Button>{' '}
            {t('stand.whatIsLeftHereCarriesOver')}
          </p>
        )}
        {isBreak && (
          <p className="next-up" role="status">
            {t('stand.youHavePlayedFor25Minutes')}{' '}
            <Button
              size="small"
              onClick={() => {
                keepPracticeDay(me.name, rested(readPracticeDay(me.name)))
                setBreak(false)
              }}
            >
              {t('stand.iTookFive')}
            </Button>
          </p>
        )}
        {prompt && (
          <p className="prompt" role="status">
            {prompt.say}
          </p>
        )}
        {isSlipOpen || practice.slip.isLetGo ? (
          <SlipTold
            session={session}
            moment={practice}
            kinds={stand.slips}
            hasNotes={step.as_written && step.svg !== null}
          />
        ) : null}
        {mode === 'practise' && (stalledAt !== null || isBored) && (
          <Otherwise
            stand={stand}
            stalledAt={stalledAt}
            isBored={isBored}
            close={() => {
              setStallSeen(true)
              setBored(false)
            }}
          />
        )}
        <SyncStatus
          me={me}
          tell={({ entry, said }) =>
            write(queue, { kind: 'refused', what: `${entry.kind} ${entry.id}`, said: said.slice(0, 400) })
          }
        />
        <Doubts doubted={practice.doubted} />
        {practice.isJump && <JumpQuestion session={session} reason={practice.reason} />}
        <Clicker
          worked={worked}
          tempo={tempo}
          goal={item.goal_bpm}
          metronome={{ ...metronome, toggle: toggleClick }}
          changeTempo={(by) => session.changeTempo(by)}
          setTempo={(to) => session.setTempo(to)}
        />
        {click === 'two-and-two' && metronome.isRunning && <PulseCheck offBy={metronome.offBy} />}
        {open === 'settings' && (
          <Settings
            settings={settings}
            change={change}
            family={worked.family}
            hasClick={practice.hasClick}
            setClick={(on) => session.useClick(on)}
            isHelper={practice.isHelper}
            setHelper={(on) => session.useHelper(on)}
            trouble={trouble}
          >
            <Listen listening={listening} hasMark={settings.hasMark} setMark={(hasMark) => change({ hasMark })} />
            <DiaryLines queue={queue} itemId={item.item_id} seconds={seconds} />
            {stand.bored.length > 0 && (
              <Button size="small" onClick={() => setBored(true)}>
                {t('stand.anotherDrillForTheSameWork')}
              </Button>
            )}
          </Settings>
        )}
        {mode === 'practise' && <Pad session={session} canUndo={practice.canUndo} isHelper={practice.isHelper} />}
        {mode === 'run' && <RunThrough running={running} />}
        {mode === 'fragments' && <StopStart fragments={fragments} />}
        {mode === 'pleasure' && (
          <p className="pleasure">{t('stand.ofPlayingOnlyTheMinutesCount', { seconds: clock(seconds) })}</p>
        )}
      </div>
      <Help isOpen={open === 'help'} close={() => setOpen(null)} stand={stand} />
      <Feel
        isOpen={open === 'feel'}
        close={() => setOpen(null)}
        leave={leave}
        say={(what) => {
          if (metronome.isRunning) metronome.stop()
          write(queue, { kind: 'feeling', what }, item.item_id)
        }}
      />
    </div>
  )
}

/** Modes are not mixed: who has begun ends that first. */
function isLocked(mode: Mode, count: number, isFinished: boolean, isRunning: boolean): boolean {
  return isRunning || (mode === 'practise' && count > 0 && !isFinished)
}

/** After a tap or a click the keys are the Stand's again; who walks by Tab keeps the focus. */
function backToKeys(event: MouseEvent) {
  const target = event.target as HTMLElement
  if (target.closest('select, input')) return
  if (event.detail > 0 && document.activeElement instanceof HTMLElement) document.activeElement.blur()
}
