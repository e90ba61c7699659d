import { Button } from 'antd'
import { useRef } from 'react'
import type { WorkedOut } from '../../api/gen'
import { bpm } from '../../shared/pure/time'
import type { Ticking } from './useMetronome'
import { t } from '../../words/words'

interface Props {
  worked: WorkedOut
  tempo: number
  goal: number
  metronome: Ticking
  changeTempo: (by: number) => void
  setTempo: (tempo: number) => void
}

/** Metronome, tempo and the ladder. */
export function Clicker({ worked, tempo, goal, metronome, changeTempo, setTempo }: Props) {
  const tap = useTapTempo(setTempo)
  return (
    <section className="clicker" aria-label={t('stand.metronome')}>
      <div className="tempo-row">
        <Button size="large" onClick={() => changeTempo(-1)} aria-label={t('stand.slower')}>
          −
        </Button>
        <button
          type="button"
          className="tempo"
          title={t('stand.tapTheTempoHere')}
          aria-label={t('stand.tempoTapFourBeatsToSet', { tempo: bpm(tempo) })}
          onClick={(event) => tap(event.timeStamp)}
        >
          <strong data-testid="tempo">{bpm(tempo)}</strong>
          <small>{meaning(worked, tempo, goal)}</small>
        </button>
        <Button size="large" onClick={() => changeTempo(1)} aria-label={t('stand.faster')}>
          +
        </Button>
        <Button
          size="large"
          type={metronome.isRunning ? 'primary' : 'default'}
          onClick={metronome.toggle}
          aria-pressed={metronome.isRunning}
        >
          {metronome.isRunning ? t('stand.stopClick') : t('stand.startClick')} <kbd>␣</kbd>
        </Button>
        <Lamp metronome={metronome} />
      </div>
      <p className="ladder" aria-label={t('stand.tempoLadder')}>
        {worked.rungs.map((rung) => (
          <span key={rung} className={rung === tempo ? 'here' : rung < tempo ? 'below' : ''}>
            {bpm(rung)}
          </span>
        ))}
        {worked.way === 'staircase' && <em>{t('stand.oneDownAfterASlip')}</em>}
        {worked.way === 'three-up' && <em>{t('stand.threeUpOneBack')}</em>}
      </p>
    </section>
  )
}

/** What a tempo means: its share of the goal, and how fast the quickest notes are. */
function meaning(worked: WorkedOut, tempo: number, goal: number): string {
  const share = t('stand.ofOfValueGoal', { percent: Math.round((tempo / goal) * 100), goal: bpm(goal) })
  if (worked.notes === 0) return share
  return t('stand.notesS', { share, notes: ((worked.notes_per_second_at_goal * tempo) / goal).toFixed(1) })
}

export function Lamp({ metronome }: { metronome: Ticking }) {
  const { beat, count } = metronome
  const isCount = beat?.sound === 'count'
  const isLit = beat !== null && beat.sound !== 'silent'
  const name = isCount ? 'lamp count' : isLit ? `lamp on-${count % 2} ${beat.sound}` : 'lamp'
  return (
    <span className={name} aria-hidden="true">
      {isCount ? beat.left : beat?.sound === 'off' ? t('stand.set') : ''}
    </span>
  )
}

const TAPS = 4
const LONGEST_GAP_MS = 2500

/** Four taps set the tempo. */
function useTapTempo(setTempo: (tempo: number) => void): (at: number) => void {
  const taps = useRef<number[]>([])
  return (at) => {
    const last = taps.current.at(-1)
    taps.current = last !== undefined && at - last < LONGEST_GAP_MS ? [...taps.current, at].slice(-TAPS) : [at]
    const first = taps.current[0]
    if (taps.current.length < TAPS || first === undefined) return
    setTempo(Math.round((60_000 * (TAPS - 1)) / (at - first)))
  }
}
