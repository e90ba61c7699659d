import type { SoundOut, StepOut, WorkedOut } from '../../api/gen'
import type { PlayedNote, PlayPlan } from '../../sound/player'
import { toNumber } from './fraction'

export interface Heard {
  /** Beats a minute of the ladder; the step's own pace is taken from it. */
  tempo: number
  isLoop: boolean
  hasClick: boolean
  hasSound: boolean
  hasCountIn: boolean
}

/** A step of a drill as it is played. */
export function playOf(worked: WorkedOut, step: StepOut, heard: Heard): PlayPlan {
  const { tempo, isLoop, hasClick, hasSound, hasCountIn } = heard
  return {
    notes: notesOf(step.sounds),
    quarters: toNumber(step.quarters),
    beat: toNumber(worked.beat),
    click: toNumber(step.click),
    clickAt: toNumber(step.click_at),
    clicks: step.clicks.map(toNumber),
    tempo: tempo * step.pace,
    countIn: hasCountIn ? worked.count_in.map(toNumber) : [],
    isLoop,
    hasClick,
    hasSound,
    family: worked.family,
  }
}

/** Sounds as notes to play; `family`: whose they are, where that is not the plan's. */
export function notesOf(sounds: SoundOut[], family?: string): PlayedNote[] {
  const whose = family === undefined ? {} : { family }
  return sounds.map((s) => ({
    at: toNumber(s.at),
    duration: toNumber(s.duration),
    midi: s.midi,
    note: s.note,
    ...whose,
  }))
}
