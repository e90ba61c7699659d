import { Button, Checkbox, Select } from 'antd'
import type { AssignIn, AssignPreview, StudentGetsOut } from '../../api/gen'
import { AT_TEMPO } from '../../shared/pure/levels'
import { clock, day, minutes } from '../../shared/pure/time'
import { LevelMark } from '../../shared/ui/LevelMark'
import { t } from '../../words/words'

export type ExceptionKind = NonNullable<AssignIn['exceptions']>[string]

const KINDS: { value: ExceptionKind | ''; label: string }[] = [
  { value: '', label: t('assign.asTheSection') },
  { value: 'absent', label: t('assign.absentAWeekLater') },
  { value: 'injured', label: t('assign.injuredWithoutTheInstrument') },
  { value: 'ahead', label: t('assign.aheadOnlyWhatIsOpen') },
  { value: 'own order', label: t('assign.ownOrderFrontToBack') },
  { value: 'smaller', label: t('assign.smallerBlocks') },
]

/** Whether the climb fits the days there are. */
export function Feasibility({ preview }: { preview: AssignPreview }) {
  const fits = preview.climb_seconds <= preview.available_seconds
  return (
    <p className={fits ? 'fit' : 'fit short'}>
      {t('assign.withoutASlipTheWholeClimb', {
        count: preview.days,
        climbSeconds: minutes(preview.climb_seconds),
        availableSeconds: minutes(preview.available_seconds),
      })}
      {!fits && t('assign.thatDoesNotFitTakeA')}
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
        <span className="muted">{t('assign.read', { part: usual.part })}</span>
        <Lines student={usual} />
      </summary>
      <Apart
        students={students}
        isApart={playsAnother}
        say={[t('assign.playsAnotherPartOfThisPiece'), t('assign.playAnotherPartOfThisPiece')]}
        leftOut={props.leftOut}
        setLeftOut={props.setLeftOut}
      />
      <Apart
        students={students}
        isApart={hasItAll}
        say={[t('assign.hasAllOfThisAtTempo'), t('assign.haveAllOfThisAtTempo')]}
        leftOut={props.leftOut}
        setLeftOut={props.setLeftOut}
      />
      <table className="plain preview" aria-label={t('assign.whatEachStudentOfGetsOn', { section })}>
        <thead>
          <tr>
            <th>{t('assign.student')}</th>
            <th>{t('assign.levelNow')}</th>
            <th>{t('assign.exception')}</th>
            <th>{t('assign.getsIt')}</th>
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
      {t('assign.of', { count: apart.length, studentsCount: students.length, say: say[0], say2: say[1] })}{' '}
      <Button size="small" onClick={() => setLeftOut([...leftOut, ...apart.map((one) => one.student_id)])}>
        {t('assign.leaveThoseStudentsOut', { count: apart.length })}
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
        {student.plays && <small className="muted"> {t('assign.plays', { plays: student.plays })}</small>}
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
          aria-label={t('assign.howGetsIt', { name: student.name })}
          value={exceptions[id] ?? ''}
          options={KINDS}
          onChange={except}
          popupMatchSelectWidth={false}
          disabled={isLeftOut}
        />
      </td>
      <td>
        <Checkbox
          aria-label={t('assign.getsItOfName', { name: student.name })}
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
  if (student.why_nothing)
    return (
      <span className="muted">
        {t('assign.nothingOfWhyNothing', { whyNothing: student.why_nothing.toLowerCase() })}
      </span>
    )
  return (
    <ul className="gets">
      {student.items.map((item, i) => (
        <li key={i}>
          {item.chunk} <span className="muted">{item.drill}</span>{' '}
          {item.seconds === 0 ? t('assign.aLaterDay') : clock(item.seconds)}
          {item.role === 'upkeep' && t('assign.upkeepTail')}
          {item.note && <em> {item.note.toLowerCase()}</em>}
        </li>
      ))}
      {student.exception === 'absent' && (
        <li className="muted">{t('assign.dueOfDueOn', { dueOn: day(student.due_on) })}</li>
      )}
    </ul>
  )
}
