import { useEffect, useMemo, useSyncExternalStore } from 'react'
import type { ClimbOut, Me, StandOut } from '../../api/gen'
import type { Climb, ClimbPlan } from '../../practice/climb'
import { PracticeSession } from '../../practice/session'
import { toNumber } from '../../shared/pure/fraction'
import { schoolClock } from '../../shared/hooks/schoolClock'
import { useSyncQueue } from '../../shared/hooks/useSyncQueue'

export function planOf(stand: StandOut): ClimbPlan {
  return {
    steps: stand.worked.steps.map((step) => ({
      repetitions: step.repetitions,
      quarters: toNumber(step.quarters) / step.pace,
      unbroken: step.kind === 'set',
      slip: step.slip,
      isFree: step.kind === 'learn',
    })),
    rungs: stand.worked.rungs,
    beat: toNumber(stand.worked.beat),
    way: stand.worked.way,
  }
}

export function climbOf(climb: ClimbOut): Climb {
  return {
    tempo: climb.tempo,
    reach: climb.reach,
    step: climb.step,
    inARow: climb.in_a_row,
    slipsInARow: climb.slips_in_a_row,
    done: climb.done,
    cycles: climb.cycles,
    isFinished: climb.is_finished,
    lastAt: climb.last_at,
    told: climb.told as Climb['told'],
  }
}

/** The practice session of a drill, watched. */
export function usePractice(me: Me, stand: StandOut) {
  const { queue, unsent } = useSyncQueue(me)
  const session = useMemo(
    () =>
      new PracticeSession(
        stand.item.item_id,
        planOf(stand),
        climbOf(stand.climb),
        stand.item.level,
        (entry) => queue.put(entry),
        () => schoolClock.now(),
      ),
    [stand, queue],
  )
  useEffect(() => {
    void session.takeUp(queue.outbox)
    const itemId = stand.item.item_id
    return queue.listen({
      answered: (batch, answer) => {
        const climb = answer.items.find((one) => one.item_id === itemId)?.climb
        session.heard(batch, {
          level: answer.levels.find((one) => one.chunk_id === stand.worked.chunk.id)?.level,
          climb: climb && climbOf(climb),
          // A jump was told when it was made; the rest the student could not know.
          doubted: answer.doubted.filter((one) => one.doubt !== 'jump'),
        })
      },
      refused: (batch) => session.refused(batch),
    })
  }, [session, queue, stand])
  useEffect(() => {
    const close = () => session.closeSlip()
    window.addEventListener('pagehide', close)
    return () => {
      window.removeEventListener('pagehide', close)
      close()
    }
  }, [session])
  const moment = useSyncExternalStore(session.watch, session.snapshot)
  return { ...moment, session, queue, unsent, isJump: session.isJump, canUndo: moment.played.length > 0 }
}
