import { useCallback, useEffect, useState } from 'react'
import { v7 } from 'uuid'
import type { ClimbOut, Me, PracticeState, StandOut } from '../../api/gen'
import { advance, type Climb, type ClimbPlan } from '../../shared/lib/climb'
import { toNumber } from '../../shared/lib/fraction'
import { useOutbox } from './useOutbox'

export function planOf(stand: StandOut): ClimbPlan {
  return {
    steps: stand.worked.steps.map((step) => ({
      repetitions: step.repetitions,
      quarters: toNumber(step.quarters) / step.pace,
      unbroken: step.kind === 'set',
      slip: step.slip,
    })),
    rungs: stand.worked.rungs,
    beat: toNumber(stand.worked.beat),
  }
}

function climbOf(climb: ClimbOut): Climb {
  return {
    tempo: climb.tempo,
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

interface Moment {
  climb: Climb
  tempo: number
  played: { id: string; before: Climb }[]
}

/** Where the student stands, counted here at once and handed in behind. */
export function usePractice(me: Me, stand: StandOut) {
  const plan = planOf(stand)
  const [level, setLevel] = useState(stand.item.level)
  const [now, setNow] = useState<Moment>(() => {
    const climb = { ...climbOf(stand.climb), told: '' as const }
    return { climb, tempo: climb.tempo, played: [] }
  })
  const itemId = stand.item.item_id
  const onState = useCallback(
    (state: PracticeState) => {
      if (state.item.item_id === itemId) setLevel(state.item.level)
    },
    [itemId],
  )
  const { put, unsent, outbox } = useOutbox(me, onState)

  // What an earlier visit could not hand in yet was played all the same.
  useEffect(() => {
    void outbox.waiting().then((list) => {
      const waiting = list.flatMap((entry) => (entry.kind === 'played' && entry.item_id === itemId ? [entry] : []))
      if (waiting.length === 0) return
      setNow((moment) => {
        if (moment.played.length > 0) return moment
        const steps = planOf(stand)
        const climb = waiting.reduce(
          (state, r) =>
            advance(steps, state, { step: r.step, tempo: r.tempo_bpm, isClean: r.is_clean, at: Date.parse(r.played_at) / 1000 }),
          moment.climb,
        )
        return { ...moment, climb, tempo: climb.tempo }
      })
    })
  }, [outbox, itemId, stand])

  function play(isClean: boolean) {
    const at = Date.now()
    const id = v7()
    const { climb, tempo } = now
    const next = advance(plan, climb, { step: climb.step, tempo, isClean, at: at / 1000 })
    setNow({ climb: next, tempo: next.tempo, played: [...now.played, { id, before: climb }] })
    void put({
      kind: 'played',
      id,
      item_id: itemId,
      step: climb.step,
      tempo_bpm: tempo,
      is_clean: isClean,
      played_at: new Date(at).toISOString(),
    })
  }
  function undo() {
    const last = now.played.at(-1)
    if (!last) return
    setNow({ climb: last.before, tempo: last.before.tempo, played: now.played.slice(0, -1) })
    void put({ kind: 'taken back', id: last.id })
  }
  function nextStep() {
    const step = (now.climb.step + 1) % plan.steps.length
    setNow({ ...now, climb: { ...now.climb, step, inARow: 0, told: '' } })
  }
  function changeTempo(by: number) {
    setNow({ ...now, tempo: Math.min(300, Math.max(20, now.tempo + by)) })
  }
  return { ...now, canUndo: now.played.length > 0, level, unsent, play, undo, nextStep, changeTempo }
}
