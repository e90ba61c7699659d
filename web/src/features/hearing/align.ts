/** A place of the music, in quarter notes from the beginning of the chunk, and when it sounds in a take. */
export interface Known {
  quarters: number
  seconds: number
}

/** The part of a take's clock that is known: by one place and the tempo, or by places on both sides. */
export function secondsAt(known: Known[], quarters: number, secondsPerQuarter: number): number {
  const line = lineAround(known, (one) => one.quarters <= quarters, secondsPerQuarter)
  return Math.max(0, line.seconds + (quarters - line.quarters) * line.pace)
}

/** Where in the music a moment of a take is, in quarter notes. */
export function quartersAt(known: Known[], seconds: number, secondsPerQuarter: number): number {
  const line = lineAround(known, (one) => one.seconds <= seconds, secondsPerQuarter)
  return line.quarters + (seconds - line.seconds) / line.pace
}

interface Line extends Known {
  pace: number
}

function lineAround(known: Known[], isBefore: (one: Known) => boolean, secondsPerQuarter: number): Line {
  const first = known[0]
  if (!first) return { quarters: 0, seconds: 0, pace: secondsPerQuarter }
  const place = Math.max(0, known.findLastIndex(isBefore))
  // Past the last known place it goes on as between the last two.
  const from = known[Math.max(0, Math.min(place, known.length - 2))] ?? first
  const to = known[Math.min(place + 1, known.length - 1)]
  if (!to || to === from) return { ...from, pace: secondsPerQuarter }
  return { ...from, pace: (to.seconds - from.seconds) / (to.quarters - from.quarters) }
}

/** Say when a place sounds; what contradicts it goes, so that later places always sound later. */
export function withKnown(known: Known[], one: Known): Known[] {
  const rest = known.filter(
    (other) =>
      other.quarters !== one.quarters &&
      Math.sign(other.quarters - one.quarters) === Math.sign(other.seconds - one.seconds),
  )
  return [...rest, one].sort((a, b) => a.quarters - b.quarters)
}
