import { STEADY } from '../../shared/lib/levels'

/** What of a chunk's seams is open, in words; below steady nobody asks. */
export function seamWords(level: number, seams: '' | 'in' | 'out' | 'both'): string {
  if (level < STEADY || seams === 'both') return ''
  if (seams === 'in') return ', seam out open'
  return seams === 'out' ? ', seam in open' : ', both seams open'
}
