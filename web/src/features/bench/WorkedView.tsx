import { Button, InputNumber, Switch } from 'antd'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { DrillOut, LadderOut, OtherLadderOut, StepOut, WorkedOut } from '../../api/gen'
import { playOf } from '../../shared/lib/playing'
import { bpm, clock } from '../../shared/lib/time'
import { usePlayer } from '../../sound/usePlayer'
import { Score } from '../../shared/ui/Score'

const KINDS: Record<string, string> = { learn: 'to learn', set: 'to set, unbroken', prove: 'to prove' }

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
        <Figure name={worked.at_goal ? 'Once through all steps' : 'First cycle'} value={clock(worked.cycle_seconds)} />
        {!worked.at_goal && <Figure name="Whole climb, without a slip" value={clock(worked.climb_seconds)} />}
        {isOnPaper ? (
          <Figure name="Notes" value="on paper" />
        ) : (
          <>
            <Figure name="At goal" value={`${worked.notes_per_second_at_goal.toFixed(1)} notes a second`} />
            <Figure name="Quickest" value={`${short(worked.notes_a_click)} to a click`} />
            <Figure name="Have their turn" value={`${worked.turned} of ${worked.notes} notes`} />
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
      {undrawn > 0 && <Button onClick={drawMore}>Engrave the other {undrawn} steps too</Button>}
      <dl className="counsel">
        <dt>Clean means</dt>
        <dd>{drill.clean_means}</dd>
        <dt>On a slip</dt>
        <dd>{drill.on_slip}</dd>
        {drill.caution && (
          <>
            <dt>Mind</dt>
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
    <div className="listen-bar" role="group" aria-label="How it is heard">
      <label className="tempo-field">
        Listen at{' '}
        <InputNumber
          aria-label="Tempo to listen at"
          min={20}
          max={300}
          value={tempo}
          onChange={(value) => onChange({ ...listening, tempo: value })}
        />{' '}
        <span className="muted">{Math.round((tempo / goal) * 100)} % of goal</span>
      </label>
      {toggle('hasSound', 'Notes')}
      {toggle('hasClick', 'Click')}
      {toggle('hasCountIn', 'Count-in')}
      {toggle('isLoop', 'Loop')}
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
          aria-label={`${isPlaying ? 'Stop' : 'Listen to'} step ${number}, ${step.name}`}
          onClick={toggle}
        >
          {isPlaying ? '■' : '▶'}
        </Button>
        <p>
          <strong>
            {number}. {step.name}
          </strong>{' '}
          ×{step.repetitions} {step.slip === 'on' ? 'times' : 'in a row'}, {KINDS[step.kind] ?? step.kind}
          {step.pace !== 1 && `, at ${Math.round(step.pace * 100)} % of the tempo`}
          {step.burst_bpm !== null && (
            <span className="burst">
              {' '}
              The quick notes are as fast as the goal at <strong>{bpm(step.burst_bpm)}</strong>.
            </span>
          )}
          {step.say && <span className="say">{step.say}</span>}
        </p>
      </div>
      {step.svg !== null && <Score ref={sheet} svg={step.svg} label={`${step.name}, engraved`} className="snippet" />}
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
    <p className="ladder" aria-label="Tempo ladder">
      {rungs.map((rung) => (
        <span key={rung}>
          {bpm(rung)}
          <small>
            {Math.round((rung / goal) * 100)} % · {((notesAtGoal * rung) / goal).toFixed(1)}/s
          </small>
        </span>
      ))}
      <em>
        {rungs.length} {rungs.length === 1 ? 'rung' : 'rungs'}
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
      {says}: {other.rungs} rungs, {clock(other.seconds)}
    </Button>
  )
  return (
    <p className="ladder-fit">
      {fits
        ? `The whole climb fits ${ladder.minutes} minutes.`
        : `${ladder.minutes} minutes hold ${ladder.today} of ${rungs} rungs; the next day goes on from there.`}{' '}
      {ladder.finer && offer(ladder.finer, `By ${bpm(ladder.finer.step_bpm)}`)}
      {ladder.shorter && offer(ladder.shorter, 'Shorter')}
    </p>
  )
}
