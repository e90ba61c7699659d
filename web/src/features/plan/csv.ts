import type { PlanOut } from '../../api/gen'
import { csvOf, download } from '../../shared/hooks/csv'
import { t } from '../../words/words'

/** A student's days as a table: one line for each thing to do. */
export function planCsv(plan: PlanOut) {
  const rows = plan.days.flatMap((practiceDay) =>
    practiceDay.items.map((item) => [
      practiceDay.day,
      String(practiceDay.session),
      item.category,
      item.place.replace('→', ''),
      item.drill_title,
      String(item.from_bpm),
      String(item.to_bpm),
      String(item.minutes),
      item.why,
    ]),
  )
  const head = [
    t('plan.day'),
    t('plan.session'),
    t('plan.kind'),
    t('plan.where'),
    t('plan.drill'),
    t('plan.from'),
    t('plan.to'),
    t('plan.minutes'),
    t('plan.why'),
  ]
  download(`${plan.title} ${plan.shown.name}.csv`, csvOf([head, ...rows]))
}
