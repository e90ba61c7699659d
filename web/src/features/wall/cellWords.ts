import { STEADY } from '../../shared/pure/levels'
import { t } from '../../words/words'

/** What of a chunk's seams is open, in words; below steady nobody asks. */
export function seamWords(level: number, seams: '' | 'in' | 'out' | 'both'): string {
  if (level < STEADY || seams === 'both') return ''
  if (seams === 'in') return t('wall.seamOutOpen')
  return seams === 'out' ? t('wall.seamInOpen') : t('wall.bothSeamsOpen')
}
