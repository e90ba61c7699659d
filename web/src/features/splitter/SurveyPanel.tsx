import { measureTitle } from '../../shared/pure/places'
import { Button } from 'antd'
import type { MeasureOut, PositionOut, SpotOut, SurveyOut } from '../../api/gen'
import { t } from '../../words/words'

interface Props {
  survey: SurveyOut
  measures: MeasureOut[]
  cursor: PositionOut
  goTo: (index: number) => void
}

/** What the piece asks for, and what stands in the measure at the cursor. */
export function SurveyPanel({ survey, measures, cursor, goTo }: Props) {
  const here = survey.measures[cursor.index]
  const spots = together(here?.spots ?? [])
  return (
    <div className="panel">
      <p className="muted">
        {survey.instrument
          ? t('splitter.readForAtGoalTempo', { instrument: survey.instrument })
          : t('splitter.readAtGoalTempoForNo')}
      </p>
      <p>
        <strong>{t('splitter.crux')}</strong>{' '}
        <Button size="small" onClick={() => goTo(survey.crux)}>
          {t('splitter.measureLower')} {survey.crux_number}
        </Button>
      </p>
      {survey.objectives.length > 0 && (
        <>
          <h3>{t('splitter.whatItNeeds')}</h3>
          <ul className="objectives">
            {survey.objectives.map((objective) => (
              <li key={objective.kind}>{objective.text}</li>
            ))}
          </ul>
        </>
      )}
      <h3>
        {measureTitle(measures, cursor.index)}
        {here && here.notes_per_second > 0 && (
          <small className="muted">
            {' '}
            {t('splitter.notesASecond', { notesPerSecond: here.notes_per_second.toFixed(1) })}
          </small>
        )}
      </h3>
      {spots.length === 0 && <p className="muted">{t('splitter.nothingSpecial')}</p>}
      <ul className="spot-list">
        {spots.slice(0, 12).map((spot) => (
          <li key={spot.why} className={spot.weight >= 0.55 ? 'heavy' : ''}>
            {spot.why}
            {spot.times > 1 && <span className="muted"> {t('splitter.timesOfTimes', { times: spot.times })}</span>}
          </li>
        ))}
      </ul>
    </div>
  )
}

/** Each reason once, with how often it holds, the heaviest first. */
function together(spots: SpotOut[]): { why: string; weight: number; times: number }[] {
  const found = new Map<string, { why: string; weight: number; times: number }>()
  for (const { why, weight } of spots) {
    const before = found.get(why)
    found.set(why, { why, weight: Math.max(weight, before?.weight ?? 0), times: (before?.times ?? 0) + 1 })
  }
  return [...found.values()].sort((a, b) => b.weight - a.weight)
}
