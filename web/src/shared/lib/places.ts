import type { MeasureOut, PositionOut } from '../../api/gen'

/** A place as it is said: measure and beat. */
export function placeLabel(measures: MeasureOut[], place: PositionOut): string {
  const measure = measures[place.index]
  if (!measure) return ''
  const beat = measure.beats.indexOf(place.at)
  return beat >= 0 ? `measure ${measure.number}, beat ${beat + 1}` : `measure ${measure.number}, inside a beat`
}
