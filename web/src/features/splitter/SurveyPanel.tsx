import { Button } from 'antd'
import type { MeasureOut, PositionOut, SurveyOut } from '../../api/gen'

interface Props {
  survey: SurveyOut
  measures: MeasureOut[]
  cursor: PositionOut
  goTo: (index: number) => void
}

/** What the piece asks for, and what stands in the measure at the cursor. */
export function SurveyPanel({ survey, measures, cursor, goTo }: Props) {
  const here = survey.measures[cursor.index]
  const spots = [...(here?.spots ?? [])].sort((a, b) => b.weight - a.weight)
  return (
    <div className="panel">
      <p className="muted">Read for {survey.instrument} at goal tempo.</p>
      <p>
        <strong>Crux:</strong>{' '}
        <Button size="small" onClick={() => goTo(survey.crux)}>
          measure {survey.crux_number}
        </Button>
      </p>
      {survey.objectives.length > 0 && (
        <>
          <h3>What it asks for</h3>
          <ul className="objectives">
            {survey.objectives.map((objective) => (
              <li key={objective.kind}>{objective.text}</li>
            ))}
          </ul>
        </>
      )}
      <h3>
        Measure {measures[cursor.index]?.number}
        {here && here.notes_per_second > 0 && <small className="muted"> {here.notes_per_second.toFixed(1)} notes a second</small>}
      </h3>
      {spots.length === 0 && <p className="muted">Nothing in particular.</p>}
      <ul className="spot-list">
        {spots.slice(0, 12).map((spot, i) => (
          <li key={i} className={spot.weight >= 0.55 ? 'heavy' : ''}>
            {spot.why}
          </li>
        ))}
      </ul>
    </div>
  )
}
