import type { DrillOut, StepOut, WorkedOut } from '../../api/gen'
import { bpm, clock } from '../../shared/lib/time'
import { Score } from '../../shared/ui/Score'

const KINDS: Record<string, string> = { learn: 'to learn', set: 'to set, unbroken', prove: 'to prove' }

interface Props {
  worked: WorkedOut
  drill: DrillOut
  isStale: boolean
}

/** A drill worked out: what it costs, its ladder, and each step engraved. */
export function WorkedView({ worked, drill, isStale }: Props) {
  return (
    <div className={isStale ? 'worked stale' : 'worked'}>
      <dl className="figures">
        <div>
          <dt>First cycle</dt>
          <dd>{clock(worked.cycle_seconds)}</dd>
        </div>
        <div>
          <dt>Whole climb, without a slip</dt>
          <dd>{clock(worked.climb_seconds)}</dd>
        </div>
        <div>
          <dt>At goal</dt>
          <dd>{worked.notes_per_second_at_goal.toFixed(1)} notes a second</dd>
        </div>
      </dl>
      <Ladder rungs={worked.rungs} />
      <ol className="steps">
        {worked.steps.map((step, i) => (
          <li key={`${step.name} ${i}`}>
            <StepHead step={step} number={i + 1} />
            <Score svg={step.svg} label={`${step.name}, engraved`} className="snippet" />
          </li>
        ))}
      </ol>
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

function StepHead({ step, number }: { step: StepOut; number: number }) {
  return (
    <p className="step-head">
      <strong>
        {number}. {step.name}
      </strong>{' '}
      ×{step.repetitions} in a row, {KINDS[step.kind] ?? step.kind}
      {step.burst_bpm !== null && (
        <span className="burst">
          {' '}
          The quick notes are as fast as the goal at <strong>{bpm(step.burst_bpm)}</strong>.
        </span>
      )}
    </p>
  )
}

export function Ladder({ rungs }: { rungs: number[] }) {
  return (
    <p className="ladder" aria-label="Tempo ladder">
      {rungs.map((rung) => (
        <span key={rung}>{bpm(rung)}</span>
      ))}
      <em>
        {rungs.length} {rungs.length === 1 ? 'rung' : 'rungs'}
      </em>
    </p>
  )
}
