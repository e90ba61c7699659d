import type { StepOut, WorkedOut } from '../../api/gen'
import type { Climb } from '../../practice/climb'
import { bpm } from '../../shared/lib/time'

/** What the climb says after a repetition, in words. */
export function tell(climb: Climb, step: StepOut, hasClick: boolean, way: WorkedOut['way'] = 'ladder'): string {
  switch (climb.told) {
    case 'up':
      return `A clean cycle. Up to ${bpm(climb.tempo)}.`
    case 'back':
      return `Three up, one back: ${bpm(climb.tempo)} once more, easily.`
    case 'down':
      return way === 'staircase'
        ? `One down, to ${bpm(climb.tempo)}.`
        : `Down to ${bpm(climb.tempo)}. Let it settle there.`
    case 'again':
      return 'Once more: start the count over.'
    case 'step':
      return 'That one is sure. Now the next step.'
    case 'pause':
      return 'After a pause, start the count over.'
    case 'attempt':
      return hasClick ? 'Kept as an attempt.' : 'Kept; without a click it proves no tempo.'
    case 'finished':
      return 'At goal, clean. This one is done.'
    case 'bonus':
      return 'It is done all the same: a bonus takes nothing away.'
    default:
      if (climb.inARow > 0) return ''
      return step.slip === 'on'
        ? `${step.repetitions} times; a slip counts too.`
        : `${step.repetitions} clean in a row.`
  }
}
