import { useCallback, useEffect, useMemo, useRef, useSyncExternalStore } from 'react'
import type { ClimbOut, HandedIn, Me, StandOut } from '../../api/gen'
import type { Climb, ClimbPlan } from '../../practice/climb'
import type { Waiting } from '../../practice/outbox'
import { PracticeSession } from '../../practice/session'
import { toNumber } from '../../shared/lib/fraction'
import { useOutbox } from './useOutbox'

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
  }
}

function climbOf(climb: ClimbOut): Climb {
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
  const current = useRef<PracticeSession | null>(null)
  const chunkId = stand.worked.chunk.id
  const itemId = stand.item.item_id
  const hear = useMemo(
    () => (batch: Waiting[], answer: HandedIn) => {
      const climb = answer.items.find((one) => one.item_id === itemId)?.climb
      current.current?.heard(batch, {
        level: answer.levels.find((one) => one.chunk_id === chunkId)?.level,
        climb: climb && climbOf(climb),
        // A jump was told when it was made; the rest the student could not know.
        doubted: answer.doubted.filter((one) => one.doubt !== 'jump'),
      })
    },
    [chunkId, itemId],
  )
  const letGo = useCallback((batch: Waiting[]) => current.current?.refused(batch), [])
  const { put, unsent, refused, forget, outbox } = useOutbox(me, hear, letGo)
  const session = useMemo(
    () =>
      new PracticeSession(stand.item.item_id, planOf(stand), climbOf(stand.climb), stand.item.level, (entry) => void put(entry)),
    [stand, put],
  )
  useEffect(() => {
    current.current = session
    void session.takeUp(outbox)
  }, [session, outbox])
  const moment = useSyncExternalStore(session.watch, session.snapshot)
  return { ...moment, session, isJump: session.isJump, canUndo: moment.played.length > 0, unsent, refused, forget }
}
