import { Button, Checkbox, Select } from 'antd'
import type { AssignIn, AssignPreview, StudentGetsOut } from '../../api/gen'
import { AT_TEMPO } from '../../shared/lib/levels'
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
    <div className="preview-sections">
      {sections.map((section) => (
        <SectionPreview
          key={section}
          section={section}
          students={props.preview.students.filter((s) => s.section === section)}
          isOpen={sections.length === 1}
          {...props}
        />
      ))}
    </div>
  )
}

interface SectionProps extends TableProps {
  section: string
  students: StudentGetsOut[]
  isOpen: boolean
}

function SectionPreview({ section, students, isOpen, ...props }: SectionProps) {
  const usual = students.find((s) => s.exception === '') ?? students[0]
  if (!usual) return null
  return (
    <details open={isOpen}>
      <summary>
        <strong>
          {section} ({students.length})
        </strong>{' '}
        <span className="muted">read {usual.part}</span>
        <Lines student={usual} />
      </summary>
      <Apart
        students={students}
        isApart={playsAnother}
        say={['plays another part of this piece', 'play another part of this piece']}
        leftOut={props.leftOut}
        setLeftOut={props.setLeftOut}
      />
      <Apart
        students={students}
        isApart={hasItAll}
        say={['has all of this at tempo already', 'have all of this at tempo already']}
        leftOut={props.leftOut}
        setLeftOut={props.setLeftOut}
      />
      <table className="plain preview" aria-label={`What each student gets on the first day: ${section}`}>
        <thead>
          <tr>
            <th>Student</th>
            <th>Stands at</th>
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
    </details>
  )
}

interface ApartProps extends Pick<TableProps, 'leftOut' | 'setLeftOut'> {
  students: StudentGetsOut[]
  isApart: (student: StudentGetsOut) => boolean
  /** What is said of one of them, and of more. */
  say: [string, string]
}

/** Some for whom it may not be meant: they are counted, and left out by one click. */
function Apart({ students, isApart, say, leftOut, setLeftOut }: ApartProps) {
  const apart = students.filter((one) => isApart(one) && !leftOut.includes(one.student_id))
  if (apart.length === 0) return null
  return (
    <p className="caution">
      {apart.length} of {students.length} {apart.length === 1 ? say[0] : say[1]}.{' '}
      <Button size="small" onClick={() => setLeftOut([...leftOut, ...apart.map((one) => one.student_id)])}>
        Leave {apart.length === 1 ? 'that one' : 'them'} out
      </Button>
    </p>
  )
}

const playsAnother = (student: StudentGetsOut) => Boolean(student.plays)
/** What stands at tempo takes no more minutes than a cold check does. */
const hasItAll = (student: StudentGetsOut) =>
  !student.plays && student.items.length > 0 && student.items.every((item) => item.level >= AT_TEMPO)

function Row({
  student,
  leftOut,
  setLeftOut,
  exceptions,
  setExceptions,
}: Omit<TableProps, 'preview'> & { student: StudentGetsOut }) {
  const id = student.student_id
  const isLeftOut = leftOut.includes(id)
  function except(kind: ExceptionKind | '') {
    const others = Object.fromEntries(Object.entries(exceptions).filter(([other]) => other !== id))
    setExceptions(kind === '' ? others : { ...others, [id]: kind })
  }
  return (
    <tr className={isLeftOut ? 'left-out' : ''}>
      <th scope="row">
        {student.name}
        {student.plays && <small className="muted"> plays {student.plays}</small>}
      </th>
      <td>
        {isLeftOut ? (
          '–'
        ) : student.exception === '' ? (
          student.items.map((item, i) => <LevelMark key={i} level={item.level} size={18} />)
        ) : (
          <Lines student={student} />
        )}
      </td>
      <td>
        <Select
          size="small"
          aria-label={`How ${student.name} gets it`}
          value={exceptions[id] ?? ''}
          options={KINDS}
          onChange={except}
          popupMatchSelectWidth={false}
          disabled={isLeftOut}
        />
      </td>
      <td>
        <Checkbox
          aria-label={`${student.name} gets it`}
          checked={!isLeftOut}
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
          {item.chunk} <span className="muted">{item.drill}</span>{' '}
          {item.seconds === 0 ? 'a later day' : clock(item.seconds)}
          {item.role === 'upkeep' && ' (upkeep)'}
          {item.note && <em> {item.note.toLowerCase()}</em>}
        </li>
      ))}
      {student.exception === 'absent' && <li className="muted">due {day(student.due_on)}</li>}
    </ul>
  )
}
