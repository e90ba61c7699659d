import { Checkbox, Select } from 'antd'
import type { AssignIn, AssignPreview, StudentGetsOut } from '../../api/gen'
import { clock, day, minutes } from '../../shared/lib/time'
import { LevelMark } from '../../shared/ui/LevelMark'

export type ExceptionKind = NonNullable<AssignIn['exceptions']>[string]

const KINDS: { value: ExceptionKind | ''; label: string }[] = [
  { value: '', label: 'as the section' },
  { value: 'absent', label: 'absent: a week later' },
  { value: 'injured', label: 'injured: without the instrument' },
  { value: 'ahead', label: 'ahead: only what is open' },
  { value: 'own order', label: 'own order: front to back' },
  { value: 'smaller', label: 'smaller blocks' },
]

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
  exceptions: Record<string, ExceptionKind>
  setExceptions: (kinds: Record<string, ExceptionKind>) => void
}

/** What each student gets on the first day, section by section, and who gets it otherwise. */
export function PreviewTable(props: TableProps) {
  const sections = [...new Set(props.preview.students.map((s) => s.section))]
  return (
    <>
      {sections.map((section) => (
        <SectionTable key={section} section={section} students={props.preview.students.filter((s) => s.section === section)} {...props} />
      ))}
    </>
  )
}

function SectionTable({ section, students, ...props }: TableProps & { section: string; students: StudentGetsOut[] }) {
  const part = students[0]?.part ?? ''
  return (
    <table className="plain preview" aria-label={`What each student gets on the first day: ${section}`}>
      <caption>
        {section}, from {part}: what each gets on the first day
      </caption>
      <thead>
        <tr>
          <th>Student</th>
          <th>Gets</th>
          <th>How</th>
          <th>Gets it</th>
        </tr>
      </thead>
      <tbody>
        {students.map((student) => (
          <Row key={student.student_id} student={student} {...props} />
        ))}
      </tbody>
    </table>
  )
}

function Row({ student, leftOut, setLeftOut, exceptions, setExceptions }: Omit<TableProps, 'preview'> & { student: StudentGetsOut }) {
  const id = student.student_id
  function except(kind: ExceptionKind | '') {
    const others = Object.fromEntries(Object.entries(exceptions).filter(([student]) => student !== id))
    setExceptions(kind === '' ? others : { ...others, [id]: kind })
  }
  return (
    <tr className={student.is_left_out ? 'left-out' : ''}>
      <th scope="row">{student.name}</th>
      <td>{student.is_left_out ? '–' : <Lines student={student} />}</td>
      <td>
        <Select
          size="small"
          aria-label={`How ${student.name} gets it`}
          value={exceptions[id] ?? ''}
          options={KINDS}
          onChange={except}
          popupMatchSelectWidth={false}
          disabled={student.is_left_out}
        />
      </td>
      <td>
        <Checkbox
          aria-label={`${student.name} gets it`}
          checked={!student.is_left_out}
          onChange={(event) =>
            setLeftOut(event.target.checked ? leftOut.filter((other) => other !== id) : [...leftOut, id])
          }
        />
      </td>
    </tr>
  )
}

function Lines({ student }: { student: StudentGetsOut }) {
  if (student.why_nothing) return <span className="muted">Nothing: {student.why_nothing.toLowerCase()}</span>
  return (
    <ul className="gets">
      {student.items.map((item, i) => (
        <li key={i}>
          <LevelMark level={item.level} size={16} /> {item.chunk} <span className="muted">{item.drill}</span>{' '}
          {item.seconds === 0 ? 'a later day' : clock(item.seconds)}
          {item.note && <em> {item.note.toLowerCase()}</em>}
        </li>
      ))}
      {student.exception === 'absent' && <li className="muted">due {day(student.due_on)}</li>}
    </ul>
  )
}
