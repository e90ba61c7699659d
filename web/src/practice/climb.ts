/**
 * The climb on a tempo ladder, one repetition at a time: the same rule as the server's core, kept here
 * so that the practice view answers at once and without a network. Both are held to one table of
 * cases (tests/core/tempo/climb_cases.json).
 */
export interface ClimbStep {
  repetitions: number
  quarters: number
  unbroken: boolean
  /** What a slip does: tempo down, count anew at the same tempo, or nothing but a note of it. */
  slip: 'down' | 'anew' | 'on'
  /** Whether it counts without a click. */
  isFree: boolean
}

export interface ClimbPlan {
  steps: ClimbStep[]
  rungs: number[]
  beat: number
  /**
   * On a staircase a slip leads one rung down at once; three up: every fourth clean cycle leads one
   * rung back. Nothing said: a ladder.
   */
  way?: 'ladder' | 'staircase' | 'three-up'
}

export interface Played {
  step: number
  /** Beats a minute; null without a click. */
  tempo: number | null
  isClean: boolean
  /** Seconds, at the end of the repetition. */
  at: number
}

export interface Climb {
  tempo: number
  /** The highest tempo the climb has led to. */
  reach: number
  step: number
  inARow: number
  slipsInARow: number
  done: number[]
  cycles: number
  isFinished: boolean
  lastAt: number | null
  told: '' | 'again' | 'down' | 'step' | 'up' | 'back' | 'pause' | 'finished' | 'attempt' | 'bonus'
}

const PAUSE_SECONDS = 8
/** After so long a new sitting begins: slips of the last one are not slips in a row any more. */
const FRESH_SECONDS = 3 * 3600
const SLOWEST = 30
const DOWN_AFTER: Record<number, number> = { 2: 5, 3: 10 }
const MOST_SLIPS = 3
const UP_AND_BACK = 4

export function startClimb(plan: ClimbPlan): Climb {
  return {
    tempo: plan.rungs[0] ?? SLOWEST,
    reach: plan.rungs[0] ?? SLOWEST,
    step: 0,
    inARow: 0,
    slipsInARow: 0,
    done: [],
    cycles: 0,
    isFinished: false,
    lastAt: null,
    told: '',
  }
}

/** Whether a tempo leaves out rungs that were never reached. */
export function isJump(plan: ClimbPlan, state: Climb, tempo: number): boolean {
  const top = plan.rungs.at(-1) ?? tempo
  return state.reach < top && tempo > nextRung(plan, state.reach)
}

function nextRung(plan: ClimbPlan, tempo: number): number {
  return plan.rungs.find((rung) => rung > tempo) ?? plan.rungs.at(-1) ?? tempo
}

export function advance(plan: ClimbPlan, before: Climb, played: Played): Climb {
  const step = plan.steps[played.step]
  if (!step) throw new RangeError(`no step ${played.step}`)
  const tempo = played.tempo ?? before.tempo
  if ((played.tempo === null && !step.isFree) || isJump(plan, before, tempo)) {
    return { ...before, told: 'attempt', lastAt: played.at }
  }
  let state: Climb = { ...before, told: '', reach: Math.max(before.reach, tempo) }
  if (state.lastAt !== null && played.at - state.lastAt > FRESH_SECONDS) state = { ...state, slipsInARow: 0 }
  if (tempo !== state.tempo) state = { ...state, tempo, inARow: 0, done: [] }
  if (played.step !== state.step) state = { ...state, step: played.step, inARow: 0 }
  if (step.unbroken && state.inARow > 0 && hasPaused(plan, step, state, played)) {
    state = { ...state, inARow: 0, told: 'pause' }
  }
  state = { ...state, lastAt: played.at }
  return played.isClean || step.slip === 'on' ? counted(plan, state, step) : afterSlip(plan, state, step)
}

function hasPaused(plan: ClimbPlan, step: ClimbStep, state: Climb, played: Played): boolean {
  if (state.lastAt === null) return false
  const length = ((step.quarters / plan.beat) * 60) / state.tempo
  return played.at - state.lastAt - length > PAUSE_SECONDS
}

function counted(plan: ClimbPlan, state: Climb, step: ClimbStep): Climb {
  const one = { ...state, inARow: state.inARow + 1, slipsInARow: 0 }
  if (one.inARow < step.repetitions) return one
  const done = [...new Set([...one.done, one.step])].sort((a, b) => a - b)
  const left = plan.steps.map((_, i) => i).filter((i) => !done.includes(i))
  if (left.length > 0) {
    const ahead = left.find((i) => i > one.step) ?? left[0] ?? 0
    return { ...one, step: ahead, inARow: 0, done, told: 'step' }
  }
  const whole = { ...one, step: 0, inARow: 0, done: [], cycles: one.cycles + 1 }
  const top = plan.rungs.at(-1) ?? whole.tempo
  if (whole.tempo >= top) return { ...whole, isFinished: true, told: 'finished' }
  const below = plan.rungs.filter((rung) => rung < whole.tempo).at(-1)
  if (plan.way === 'three-up' && whole.cycles % UP_AND_BACK === 0 && below !== undefined)
    return { ...whole, tempo: below, told: 'back' }
  const up = nextRung(plan, whole.tempo)
  return { ...whole, tempo: up, reach: Math.max(whole.reach, up), told: 'up' }
}

function afterSlip(plan: ClimbPlan, state: Climb, step: ClimbStep): Climb {
  if (state.isFinished) return { ...state, inARow: 0, slipsInARow: 0, told: 'bonus' }
  if (plan.way === 'staircase' && step.slip === 'down') {
    const below = plan.rungs.filter((rung) => rung < state.tempo).at(-1)
    return {
      ...state,
      tempo: below ?? state.tempo,
      inARow: 0,
      done: [],
      slipsInARow: 0,
      told: below === undefined ? 'again' : 'down',
    }
  }
  const slips = state.slipsInARow + 1
  const drop = step.slip === 'down' ? DOWN_AFTER[slips] : undefined
  if (drop === undefined) return { ...state, inARow: 0, slipsInARow: slips, told: 'again' }
  return {
    ...state,
    tempo: Math.max(Math.min(state.tempo, SLOWEST), state.tempo - drop),
    inARow: 0,
    done: [],
    slipsInARow: slips < MOST_SLIPS ? slips : 0,
    told: 'down',
  }
}
