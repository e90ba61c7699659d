import type { StandOut, StepOut } from '../../api/gen'
import { toNumber } from '../../shared/pure/fraction'
import type { Meter } from '../../sound/strokes'

/** The meter of a step, as a metronome needs it. */
export function meterOf({ worked }: StandOut, step: StepOut | undefined): Meter {
  return {
    beat: toNumber(worked.beat),
    bar: worked.count_in.map(toNumber),
    clicks: (step?.clicks ?? []).map(toNumber),
    bars: (step?.bars ?? []).map(toNumber),
    quarters: toNumber(step?.quarters ?? '0'),
    smallest: Math.min(
      ...(step?.sounds ?? []).map((sound) => toNumber(sound.duration)).filter((length) => length > 0),
      toNumber(worked.beat),
    ),
    click: toNumber(step?.click ?? '1'),
    clickAt: toNumber(step?.click_at ?? '0'),
  }
}
