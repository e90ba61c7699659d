import type { PlanOut, StudentPlanOut } from '../../api/gen'
import { day } from '../../shared/lib/time'

/** Every student's chance, range of days, and what holds them up. */
export function Students({ plan, show }: { plan: PlanOut; show: (id: string) => void }) {
  return (
    <div className="table-scroll">
      <table className="plain plan-students">
        <caption className="visually-hidden">What it means for each student</caption>
        <thead>
          <tr>
            <th scope="col">Student</th>
            <th scope="col">Ready by the date</th>
            <th scope="col">Likely between</th>
            <th scope="col">Held up by</th>
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
                <meter min={0} max={1} value={one.chance} aria-label={`${inHundred(one.chance)} in 100`} />{' '}
                {inHundred(one.chance)} in 100
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
  if (!one.first) return 'further off than can be told'
  if (!one.last) return `${day(one.first)} or later`
  return one.first === one.last ? day(one.first) : `${day(one.first)} – ${day(one.last)}`
}

function holding(one: StudentPlanOut): string {
  if (!one.bottleneck) return ''
  const where = one.bottleneck.replace('→', '')
  return one.bottleneck_bpm === null ? `${where}, not played yet` : `${where}, secure at ${one.bottleneck_bpm}`
}
