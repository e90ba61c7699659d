const MAJOR = ['C♭', 'G♭', 'D♭', 'A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯']
const MINOR = ['A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯', 'G♯', 'D♯', 'A♯']

/** A key signature in words; without a stated mode, its accidentals. */
export function keyName(fifths: number, mode: string): string {
  const place = fifths + 7
  if (mode === 'major' && MAJOR[place]) return `${MAJOR[place]} major`
  if (mode === 'minor' && MINOR[place]) return `${MINOR[place]} minor`
  if (fifths === 0) return 'no sharps or flats'
  const count = Math.abs(fifths)
  const kind = fifths > 0 ? 'sharp' : 'flat'
  return `${count} ${kind}${count > 1 ? 's' : ''}`
}
