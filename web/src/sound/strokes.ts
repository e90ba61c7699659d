/**
 * Where a metronome sounds: every way to click, from the beats of the music. All times are quarter
 * notes from where the step begins.
 */
export type ClickMode = 'asked' | 'beat' | 'subdivision' | 'off-beat' | 'every-note' | 'first-beat' | 'two-and-two'

export interface Meter {
  /** What a tempo counts. */
  beat: number
  /** The beats of one measure; unequal in additive meters. */
  bar: number[]
  /** Where each beat of the step falls, if they are not equally far apart. */
  clicks: number[]
  /** Where measures begin in the step; the first one later than 0 after a pickup. */
  bars: number[]
  quarters: number
  /** The shortest note. */
  smallest: number
  /** What the drill itself asks for: a sound every so often, so far after the beat. */
  click: number
  clickAt: number
}

export type Sound = 'first' | 'beat' | 'between' | 'off' | 'silent'

export interface Stroke {
  at: number
  sound: Sound
}

/** One round, which is then repeated. */
export interface Round {
  strokes: Stroke[]
  length: number
}

interface Beat {
  at: number
  length: number
  isFirst: boolean
}

const sum = (list: number[]) => list.reduce((total, one) => total + one, 0)
const isSame = (a: number, b: number) => Math.abs(a - b) < 1e-9

/** Where beats fall in one round, and how long it is: a measure, or the whole step where beats differ. */
function beatsOf(meter: Meter): { beats: Beat[]; length: number } {
  const { clicks, bars, quarters } = meter
  const firstClick = clicks[0]
  if (firstClick !== undefined) {
    const beats = clicks.map((at, i) => ({
      at,
      length: (clicks[i + 1] ?? quarters + firstClick) - at,
      isFirst: bars.some((bar) => isSame(bar, at)),
    }))
    return { beats, length: quarters }
  }
  const length = sum(meter.bar)
  // After a pickup the first beat of a measure comes later.
  const shift = (bars[0] ?? 0) % length
  const beats: Beat[] = []
  let at = 0
  meter.bar.forEach((beat, i) => {
    beats.push({ at: (at + shift) % length, length: beat, isFirst: i === 0 })
    at += beat
  })
  return { beats: beats.sort((a, b) => a.at - b.at), length }
}

/** Beats of three parts: a dotted quarter, a dotted half, a dotted eighth. */
function partsOf(beat: number): number {
  return [0.75, 1.5, 3].some((dotted) => isSame(dotted, beat)) ? 3 : 2
}

/** One round of a way to click. */
export function roundOf(meter: Meter, mode: ClickMode, hasAccents = false): Round {
  const { beats, length } = beatsOf(meter)
  const onBeats = (): Stroke[] =>
    beats.map((beat) => ({ at: beat.at, sound: hasAccents && beat.isFirst ? 'first' : 'beat' }))
  switch (mode) {
    case 'asked': {
      const isPlain = meter.clicks.length > 0 || (isSame(meter.click, meter.beat) && meter.clickAt === 0)
      return isPlain
        ? { strokes: onBeats(), length }
        : { strokes: [{ at: meter.clickAt, sound: 'beat' }], length: meter.click }
    }
    case 'beat':
      return { strokes: onBeats(), length }
    case 'subdivision':
      return { strokes: beats.flatMap((beat) => divided(beat, partsOf(beat.length), hasAccents)), length }
    case 'off-beat':
      return { strokes: beats.map((beat): Stroke => ({ at: beat.at + beat.length / 2, sound: 'off' })), length }
    case 'every-note': {
      const smallest = meter.smallest > 0 ? meter.smallest : meter.beat
      return {
        strokes: beats.flatMap((beat) => divided(beat, Math.max(Math.round(beat.length / smallest), 1), hasAccents)),
        length,
      }
    }
    case 'first-beat': {
      const firsts = beats.filter((beat) => beat.isFirst)
      return {
        strokes: (firsts.length > 0 ? firsts : beats.slice(0, 1)).map((beat): Stroke => ({
          at: beat.at,
          sound: 'first',
        })),
        length,
      }
    }
    case 'two-and-two':
      return twoAndTwo(beats, length, hasAccents)
  }
}

function divided(beat: Beat, parts: number, hasAccents: boolean): Stroke[] {
  return Array.from({ length: parts }, (_, i) => ({
    at: beat.at + (i * beat.length) / parts,
    sound: i > 0 ? 'between' : hasAccents && beat.isFirst ? 'first' : 'beat',
  }))
}

/** Two measures that sound, two that are silent: the pulse is the player's own. */
function twoAndTwo(beats: Beat[], length: number, hasAccents: boolean): Round {
  const bars = Math.max(beats.filter((beat) => beat.isFirst).length, 1)
  const passes = bars % 4 === 0 ? 1 : bars % 2 === 0 ? 2 : 4
  const strokes: Stroke[] = []
  let bar = beats[0]?.isFirst ? -1 : 0
  for (let pass = 0; pass < passes; pass++) {
    for (const beat of beats) {
      if (beat.isFirst) bar += 1
      const isSilent = bar % 4 >= 2
      strokes.push({
        at: beat.at + pass * length,
        sound: isSilent ? 'silent' : hasAccents && beat.isFirst ? 'first' : 'beat',
      })
    }
  }
  return { strokes, length: passes * length }
}

/**
 * Where the count-in falls, before 0. A measure; before a pickup only the beats that its measure lacks,
 * with a measure before them if that is but one.
 */
export function countInOf(meter: Pick<Meter, 'bar' | 'bars'>): number[] {
  const length = sum(meter.bar)
  const pickup = meter.bars[0] ?? 0
  const begin = pickup > 0 && pickup < length ? pickup - length : -length
  const from = (start: number): number[] => {
    let at = start
    return meter.bar.map((beat) => {
      const here = at
      at += beat
      return here
    })
  }
  const before = from(begin).filter((at) => at < -1e-9)
  return before.length > 1 || meter.bar.length === 1 ? before : [...from(begin - length), ...before]
}
