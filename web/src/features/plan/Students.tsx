import type { PlanOut, StudentPlanOut } from '../../api/gen'
import { day } from '../../shared/pure/time'
import { t } from '../../words/words'

/** Every student's chance, range of days, and what holds them up. */
export function Students({ plan, show }: { plan: PlanOut; show: (id: string) => void }) {
  return (
    <div className="table-scroll">
      <table className="plain plan-students">
        <caption className="visually-hidden">{t('plan.whatThisMeansForEachStudent')}</caption>
        <thead>
          <tr>
            <th scope="col">{t('plan.student')}</th>
            <th scope="col">{t('plan.readyByTheDate')}</th>
            <th scope="col">{t('plan.likelyBetween')}</th>
            <th scope="col">{t('plan.heldUpBy')}</th>
          </tr>
        </thead>
        <tbody>
          {plan.students.map((one) => (
            <tr key={one.student_id} className={one.student_id === plan.shown.student_id ? 'chosen' : ''}>
              <th scope="row">
                <button type="button" className="as-link" onClick={() => show(one.student_id)}>
                  {one.name}
                </button>
              </th>
              <td>
                <meter
                  min={0}
                  max={1}
                  value={one.chance}
                  aria-label={t('plan.in100', { chance: inHundred(one.chance) })}
                />{' '}
                {t('plan.in100', { chance: inHundred(one.chance) })}
              </td>
              <td>{range(one)}</td>
              <td>{holding(one)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** Nobody is certain, and nobody is lost. */
export function inHundred(chance: number): number {
  return Math.min(99, Math.max(1, Math.round(chance * 100)))
}

function range(one: StudentPlanOut): string {
  if (!one.first) return t('plan.tooFarOffToSay')
  if (!one.last) return t('plan.orLater', { first: day(one.first) })
  return one.first === one.last ? day(one.first) : `${day(one.first)} – ${day(one.last)}`
}

function holding(one: StudentPlanOut): string {
  if (!one.bottleneck) return ''
  const where = one.bottleneck.replace('→', '')
  return one.bottleneck_bpm === null
    ? t('plan.notPlayedYet', { where })
    : t('plan.secureAt', { where, bottleneckBpm: one.bottleneck_bpm })
}
