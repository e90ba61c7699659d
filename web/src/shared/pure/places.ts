import type { MeasureOut, PositionOut } from '../../api/gen'
import { t } from '../../words/words'

const PICKUP = '0'

/** A measure as it is called: what stands before the first one has no number. */
export function measureLabel(measures: MeasureOut[], index: number): string {
  const number = measures[index]?.number ?? ''
  return number === PICKUP ? t('shared.thePickupLower') : number
}

/** The same, as a heading. */
export function measureTitle(measures: MeasureOut[], index: number): string {
  return measures[index]?.number === PICKUP
    ? t('shared.thePickup')
    : t('shared.measure', { measures: measureLabel(measures, index) })
}

/** A place as it is written: its measure and beat. */
export function placeLabel(measures: MeasureOut[], place: PositionOut): string {
  const measure = measures[place.index]
  if (!measure) return ''
  const name = measureLabel(measures, place.index)
  const beat = measure.beats.indexOf(place.at)
  if (beat >= 0) return t('shared.beat', { name, beat: measure.first_beat + beat })
  return t('shared.insideABeat', { name })
}
