import { Button, InputNumber, Switch } from 'antd'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { DrillOut, LadderOut, OtherLadderOut, StepOut, WorkedOut } from '../../api/gen'
import { playOf } from '../../shared/pure/playing'
import { bpm, clock } from '../../shared/pure/time'
import { usePlayer } from '../../sound/usePlayer'
import { Score } from '../../shared/ui/Score'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

const KINDS: Record<string, string> = {
  learn: t('bench.toLearn'),
  set: t('bench.toSetWithoutABreak'),
  prove: t('bench.toProve'),
}

interface Props {
  worked: WorkedOut
  drill: DrillOut
  isStale: boolean
  goal: number
  setStep: (step: number) => void
  drawMore: () => void
}

interface Listening {
  tempo: number | null
  isLoop: boolean
  hasClick: boolean
  hasSound: boolean
  hasCountIn: boolean
}

/** A drill worked out: what it costs, its ladder, and each step engraved and heard. */
export function WorkedView({ worked, drill, isStale, goal, setStep, drawMore }: Props) {
  const [listening, setListening] = useState<Listening>({
    tempo: null,
    isLoop: true,
    hasClick: true,
    hasSound: true,
    hasCountIn: true,
  })
  const [playing, setPlaying] = useState<number | null>(null)
  const tempo = listening.tempo ?? worked.rungs[0] ?? goal
  const step = playing === null ? undefined : worked.steps[playing]
  const plan = useMemo(
    () => (step ? playOf(worked, step, { ...listening, tempo }) : null),
    [worked, step, tempo, listening],
  )
  const player = usePlayer(plan)
  const { isRunning, stop } = player
  useEffect(() => stop(), [worked.drill, worked.chunk.id]) // eslint-disable-line react-hooks/exhaustive-deps
  function toggle(place: number) {
    const wanted = worked.steps[place]
    if (!wanted) return
    if (isRunning && playing === place) {
      stop()
      return
    }
    setPlaying(place)
    player.start(playOf(worked, wanted, { ...listening, tempo }))
  }
  const isOnPaper = worked.notes === 0
  const undrawn = isOnPaper ? 0 : worked.steps.filter((one) => one.svg === null).length
  return (
    <div className={isStale ? 'worked stale' : 'worked'}>
      <dl className="figures">
        <Figure
          name={worked.at_goal ? t('bench.allStepsOnce') : t('bench.firstCycle')}
          value={clock(worked.cycle_seconds)}
        />
        {!worked.at_goal && <Figure name={t('bench.theWholeClimbWithoutASlip')} value={clock(worked.climb_seconds)} />}
        {isOnPaper ? (
          <Figure name={t('bench.notes')} value={t('bench.onPaper')} />
        ) : (
          <>
            <Figure
              name={t('bench.atGoal')}
              value={t('bench.notesASecond', { speed: worked.notes_per_second_at_goal.toFixed(1) })}
            />
            <Figure name={t('bench.quickest')} value={t('bench.toAClick', { notes: short(worked.notes_a_click) })} />
            <Figure
              name={t('bench.notesCovered')}
              value={t('bench.ofNotes', { covered: worked.turned, notes: worked.notes })}
            />
          </>
        )}
      </dl>
      <Ladder rungs={worked.rungs} notesAtGoal={worked.notes_per_second_at_goal} goal={goal} />
      {worked.ladder && (
        <OtherLadders
          ladder={worked.ladder}
          rungs={worked.rungs.length}
          seconds={worked.climb_seconds}
          setStep={setStep}
        />
      )}
      <ListenBar listening={listening} tempo={tempo} goal={goal} onChange={setListening} />
      <ol className="steps">
        {worked.steps.map((one, i) => (
          <Step
            key={`${one.name} ${i}`}
            step={one}
            number={i + 1}
            isPlaying={isRunning && playing === i}
            noteId={isRunning && playing === i ? player.noteId : null}
            toggle={() => toggle(i)}
          />
        ))}
      </ol>
      {undrawn > 0 && <Button onClick={drawMore}>{t('bench.engraveTheOtherStepsToo', { undrawn })}</Button>}
      <dl className="counsel">
        <dt>{t('bench.cleanMeans')}</dt>
        <dd>{drill.clean_means}</dd>
        <dt>{t('bench.onASlip')}</dt>
        <dd>{drill.on_slip}</dd>
        {drill.caution && (
          <>
            <dt>{t('bench.watchFor')}</dt>
            <dd>{drill.caution}</dd>
          </>
        )}
      </dl>
    </div>
  )
}

function Figure({ name, value }: { name: string; value: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{value}</dd>
    </div>
  )
}

interface BarProps {
  listening: Listening
  tempo: number
  goal: number
  onChange: (listening: Listening) => void
}

/** How it is heard: tempo, click, sound, count-in, loop. */
function ListenBar({ listening, tempo, goal, onChange }: BarProps) {
  const toggle = (name: 'isLoop' | 'hasClick' | 'hasSound' | 'hasCountIn', label: string) => (
    <label>
      <Switch size="small" checked={listening[name]} onChange={(on) => onChange({ ...listening, [name]: on })} />{' '}
      {label}
    </label>
  )
  return (
    <div className="listen-bar" role="group" aria-label={t('bench.howItIsHeard')}>
      <label className="tempo-field">
        {t('bench.listenAt')}{' '}
        <InputNumber
          aria-label={t('bench.tempoToListenAt')}
          min={20}
          max={300}
          value={tempo}
          onChange={(value) => onChange({ ...listening, tempo: value })}
        />{' '}
        <span className="muted">{t('bench.ofGoal', { percent: Math.round((tempo / goal) * 100) })}</span>
      </label>
      {toggle('hasSound', t('bench.notes'))}
      {toggle('hasClick', t('bench.click'))}
      {toggle('hasCountIn', t('bench.countIn'))}
      {toggle('isLoop', t('bench.loop'))}
    </div>
  )
}

interface StepProps {
  step: StepOut
  number: number
  isPlaying: boolean
  noteId: string | null
  toggle: () => void
}

function Step({ step, number, isPlaying, noteId, toggle }: StepProps) {
  const sheet = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const note = noteId === null ? null : sheet.current?.querySelector(`[id="${CSS.escape(noteId)}"]`)
    note?.classList.add('sounding')
    return () => note?.classList.remove('sounding')
  }, [noteId])
  return (
    <li className={isPlaying ? 'is-playing' : ''}>
      <div className="step-head">
        <Button
          size="small"
          aria-pressed={isPlaying}
          aria-label={t(isPlaying ? 'bench.stopStep' : 'bench.listenToStep', { number, name: step.name })}
          onClick={toggle}
        >
          {isPlaying ? '■' : '▶'}
        </Button>
        <p>
          <strong>
            {number}. {step.name}
          </strong>{' '}
          ×{step.repetitions} {step.slip === 'on' ? t('bench.times') : t('bench.inARow')},{' '}
          {KINDS[step.kind] ?? step.kind}
          {step.pace !== 1 && t('bench.atOfTheTempo', { percent: Math.round(step.pace * 100) })}
          {step.burst_bpm !== null && (
            <span className="burst">
              {' '}
              <Say
                it="bench.atTheQuickNotesAreAs"
                values={{ burstBpm: bpm(step.burst_bpm) }}
                components={[<strong />]}
              />
            </span>
          )}
          {step.say && <span className="say">{step.say}</span>}
        </p>
      </div>
      {step.svg !== null && (
        <Score ref={sheet} svg={step.svg} label={t('bench.engraved', { name: step.name })} className="snippet" />
      )}
    </li>
  )
}

const short = (value: number) => (Number.isInteger(value) ? String(value) : value.toFixed(1))

interface LadderProps {
  rungs: number[]
  notesAtGoal: number
  goal: number
}

/** The rungs, each with what it means: per cent of goal and notes a second. */
function Ladder({ rungs, notesAtGoal, goal }: LadderProps) {
  return (
    <p className="ladder" aria-label={t('bench.tempoLadder')}>
      {rungs.map((rung) => (
        <span key={rung}>
          {bpm(rung)}
          <small>
            {t('bench.s', {
              percent: Math.round((rung / goal) * 100),
              notes: ((notesAtGoal * rung) / goal).toFixed(1),
            })}
          </small>
        </span>
      ))}
      <em>
        {rungs.length} {t('bench.rungsCount', { count: rungs.length })}
      </em>
    </p>
  )
}

interface OtherProps {
  ladder: LadderOut
  rungs: number
  seconds: number
  setStep: (step: number) => void
}

/** Whether the climb fits a day, and what a finer and a shorter one would take. */
function OtherLadders({ ladder, rungs, seconds, setStep }: OtherProps) {
  const fits = seconds <= ladder.minutes * 60
  const offer = (other: OtherLadderOut, says: string) => (
    <Button size="small" onClick={() => setStep(other.step_bpm)}>
      {t('bench.rungsOfSaysRungsSeconds', { says, rungs: other.rungs, seconds: clock(other.seconds) })}
    </Button>
  )
  return (
    <p className="ladder-fit">
      {fits
        ? t('bench.theWholeClimbFitsMinutes', { minutes: ladder.minutes })
        : t('bench.minutesHoldOfRungsTheNext', { minutes: ladder.minutes, today: ladder.today, rungs })}{' '}
      {ladder.finer && offer(ladder.finer, t('bench.by', { step: bpm(ladder.finer.step_bpm) }))}
      {ladder.shorter && offer(ladder.shorter, t('bench.shorter'))}
    </p>
  )
}
