import type { MeasureOut, PositionOut } from '../../api/gen'

/** A place as it is written: its measure and beat. */
export function placeLabel(measures: MeasureOut[], place: PositionOut): string {
  const measure = measures[place.index]
  if (!measure) return ''
  const beat = measure.beats.indexOf(place.at)
  if (beat >= 0) return `${measure.number} beat ${measure.first_beat + beat}`
  return `${measure.number}, inside a beat`
}
