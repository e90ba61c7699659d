import { Button, Switch } from 'antd'
import { bpm } from '../../shared/lib/time'

interface Props {
  tempo: number
  goal: number
  rungs: number[]
  metronome: { isRunning: boolean; beat: number | null; toggle: () => void }
  changeTempo: (by: number) => void
  isOffBeat: boolean
  setOffBeat: (on: boolean) => void
  hasCountIn: boolean
  setCountIn: (on: boolean) => void
  hasClick: boolean
  useClick: (on: boolean) => void
}

/** Metronome, tempo and the ladder. */
export function Clicker(props: Props) {
  const { tempo, goal, rungs, metronome, changeTempo } = props
  return (
    <section className="clicker" aria-label="Metronome">
      <div className="tempo-row">
        <Button size="large" onClick={() => changeTempo(-1)} aria-label="Slower">
          −
        </Button>
        <p className="tempo">
          <strong data-testid="tempo">{bpm(tempo)}</strong>
          <small>
            {Math.round((tempo / goal) * 100)} % of {bpm(goal)}
          </small>
        </p>
        <Button size="large" onClick={() => changeTempo(1)} aria-label="Faster">
          +
        </Button>
        <Button
          size="large"
          type={metronome.isRunning ? 'primary' : 'default'}
          onClick={metronome.toggle}
          aria-pressed={metronome.isRunning}
        >
          {metronome.isRunning ? 'Stop click' : 'Start click'} <kbd>␣</kbd>
        </Button>
        <span className={metronome.beat === null ? 'lamp' : metronome.beat < 0 ? 'lamp count' : `lamp on-${Math.abs(metronome.beat) % 2}`} aria-hidden="true">
          {metronome.beat !== null && metronome.beat < 0 ? -metronome.beat : ''}
        </span>
      </div>
      <p className="ladder" aria-label="Tempo ladder">
        {rungs.map((rung) => (
          <span key={rung} className={rung === tempo ? 'here' : rung < tempo ? 'below' : ''}>
            {bpm(rung)}
          </span>
        ))}
      </p>
      <div className="switches">
        <label>
          <Switch size="small" checked={props.hasCountIn} onChange={props.setCountIn} /> Count-in
        </label>
        <label>
          <Switch size="small" checked={props.isOffBeat} onChange={props.setOffBeat} /> Off the beat
        </label>
        <label title="It is kept, but proves no tempo">
          <Switch size="small" checked={!props.hasClick} onChange={(on) => props.useClick(!on)} /> No click
        </label>
      </div>
    </section>
  )
}
