import type { StepOut } from '../../api/gen'
import { toNumber } from '../../shared/pure/fraction'
import type { Beat } from '../../sound/metronome'

/**
 * The note that is played on a beat of the click, the first time through: who breathes between two
 * repetitions is not where the click would be later.
 */
export function noteAt(step: StepOut, beat: Beat | null): string | null {
  if (beat === null || beat.at < 0 || beat.at >= toNumber(step.quarters)) return null
  return step.sounds.filter((sound) => toNumber(sound.at) <= beat.at + 1e-9 && sound.note !== '').at(-1)?.note ?? null
}
