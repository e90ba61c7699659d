import type { PlannedItemOut } from '../../api/gen'
import { t } from '../../words/words'

export type Category = PlannedItemOut['category'] | 'pleasure'

/** What time is for, in words. */
export const CATEGORIES: Record<Category, string> = {
  'warm-up': t('shared.warmUp'),
  focus: t('shared.focus'),
  link: t('shared.link'),
  keep: t('shared.keep'),
  'run-through': t('shared.runThrough'),
  pleasure: t('shared.justPlaying'),
}

/** The same inside a sentence; what an older page does not know is called as it is. */
export function categoryName(category: string): string {
  return (category in CATEGORIES ? CATEGORIES[category as Category] : category).toLowerCase()
}
