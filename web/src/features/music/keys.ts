import { t } from '../../words/words'
const MAJOR = ['C♭', 'G♭', 'D♭', 'A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯']
const MINOR = ['A♭', 'E♭', 'B♭', 'F', 'C', 'G', 'D', 'A', 'E', 'B', 'F♯', 'C♯', 'G♯', 'D♯', 'A♯']

/** A key signature in words; without a stated mode, its accidentals. */
export function keyName(fifths: number, mode: string): string {
  const place = fifths + 7
  if (mode === 'major' && MAJOR[place]) return t('music.major', { major: MAJOR[place] })
  if (mode === 'minor' && MINOR[place]) return t('music.minor', { minor: MINOR[place] })
  if (fifths === 0) return t('music.noSharpsOrFlats')
  const count = Math.abs(fifths)
  const kind = fifths > 0 ? 'sharp' : 'flat'
  return `${count} ${kind}${count > 1 ? 's' : ''}`
}
