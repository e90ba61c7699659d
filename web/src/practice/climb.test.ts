import { describe, expect, it } from 'vitest'
import cases from '../../../tests/core/tempo/climb_cases.json'
import { advance, startClimb, type ClimbPlan, type ClimbStep } from './climb'

// The same table that holds the server's core to its rule.
describe('the climb', () => {
  for (const { name, steps, rungs, played, after, ...more } of cases) {
    it(name, () => {
      const plan: ClimbPlan = {
        steps: steps.map(([repetitions, quarters, unbroken, slip, isFree]) => ({
          repetitions: Number(repetitions),
          quarters: Number(quarters),
          unbroken: Boolean(unbroken),
          slip: (slip ?? 'down') as ClimbStep['slip'],
          isFree: Boolean(isFree),
        })),
        rungs,
        beat: 1,
        way: 'way' in more ? (more.way as ClimbPlan['way']) : 'ladder',
      }
      const state = played.reduce(
        (climb, [step, tempo, isClean, at]) =>
          advance(plan, climb, {
            step: Number(step),
            tempo: typeof tempo === 'number' ? tempo : null,
            isClean: Boolean(isClean),
            at: Number(at),
          }),
        startClimb(plan),
      )
      expect({
        tempo: state.tempo,
        step: state.step,
        in_a_row: state.inARow,
        cycles: state.cycles,
        told: state.told,
      }).toEqual(after)
    })
  }
})
