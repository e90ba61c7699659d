import { Checkbox } from 'antd'
import type { AssignPreview } from '../../api/gen'
import { clock, minutes } from '../../shared/lib/time'
import { LevelMark } from '../../shared/ui/LevelMark'

/** Whether the climb fits the days there are. */
export function Feasibility({ preview }: { preview: AssignPreview }) {
  const fits = preview.climb_seconds <= preview.available_seconds
  return (
    <p className={fits ? 'fit' : 'fit short'}>
      The whole climb takes {minutes(preview.climb_seconds)} without a slip; {preview.days}{' '}
      {preview.days === 1 ? 'day gives' : 'days give'} {minutes(preview.available_seconds)}.
      {!fits && ' That does not fit: take a larger step, fewer drills, a lower goal, or more days.'}
    </p>
  )
}

interface TableProps {
  preview: AssignPreview
  leftOut: string[]
  setLeftOut: (ids: string[]) => void
}

/** What each student gets on the first day, and who is left out. */
export function PreviewTable({ preview, leftOut, setLeftOut }: TableProps) {
  const heads = preview.students[0]?.items ?? []
  return (
    <table className="plain preview" aria-label="What each student gets on the first day">
      <caption>What each student gets on the first day</caption>
      <thead>
        <tr>
          <th>Student</th>
          {heads.map((item, i) => (
            <th key={i}>
              {item.chunk} <span className="muted">{item.drill}</span>
            </th>
          ))}
          <th>Gets it</th>
        </tr>
      </thead>
      <tbody>
        {preview.students.map((student) => (
          <tr key={student.student_id} className={student.is_left_out ? 'left-out' : ''}>
            <th scope="row">{student.name}</th>
            {student.items.map((item, i) => (
              <td key={i}>
                {student.is_left_out ? (
                  '–'
                ) : (
                  <>
                    {item.seconds === 0 ? 'a later day' : clock(item.seconds)} <LevelMark level={item.level} size={16} />
                  </>
                )}
              </td>
            ))}
            <td>
              <Checkbox
                aria-label={`${student.name} gets it`}
                checked={!student.is_left_out}
                onChange={(event) =>
                  setLeftOut(
                    event.target.checked
                      ? leftOut.filter((id) => id !== student.student_id)
                      : [...leftOut, student.student_id],
                  )
                }
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
