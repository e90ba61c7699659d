import type { StepOut, WorkedOut } from '../../api/gen'
import type { Climb } from '../../practice/climb'
import { bpm } from '../../shared/pure/time'
import { t } from '../../words/words'

/** What the climb says after a repetition, in words. */
export function tell(climb: Climb, step: StepOut, hasClick: boolean, way: WorkedOut['way'] = 'ladder'): string {
  switch (climb.told) {
    case 'up':
      return t('stand.aCleanCycleUpTo', { tempo: bpm(climb.tempo) })
    case 'back':
      return t('stand.threeUpOneBackOnceMore', { tempo: bpm(climb.tempo) })
    case 'down':
      return way === 'staircase'
        ? t('stand.oneDownTo', { tempo: bpm(climb.tempo) })
        : t('stand.downToLetItSettleThere', { tempo: bpm(climb.tempo) })
    case 'again':
      return t('stand.onceMoreStartTheCountAgain')
    case 'step':
      return t('stand.thisStepIsSureNowThe')
    case 'pause':
      return t('stand.afterAPauseStartTheCount')
    case 'attempt':
      return hasClick ? t('stand.savedAsAnAttempt') : t('stand.savedWithoutAClickItProves')
    case 'finished':
      return t('stand.cleanAtGoalTempoThisDrill')
    case 'bonus':
      return t('stand.theDrillIsDoneABonus')
    default:
      if (climb.inARow > 0) return ''
      return step.slip === 'on'
        ? t('stand.timesASlipCountsToo', { repetitions: step.repetitions })
        : t('stand.cleanInARow', { repetitions: step.repetitions })
  }
}
