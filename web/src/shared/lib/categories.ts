import type { PlannedItemOut } from '../../api/gen'

export type Category = PlannedItemOut['category'] | 'pleasure'

/** What time is for, in words. */
export const CATEGORIES: Record<Category, string> = {
  'warm-up': 'Warm-up',
  focus: 'Focus',
  link: 'Link',
  keep: 'Keep',
  'run-through': 'Run through',
  pleasure: 'Just playing',
}

/** The same inside a sentence; what an older page does not know is called as it is. */
export function categoryName(category: string): string {
  return (category in CATEGORIES ? CATEGORIES[category as Category] : category).toLowerCase()
}
