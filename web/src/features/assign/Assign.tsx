import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Checkbox, Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { ask, said } from '../../api/ask'
import { previewAssignment, sendAssignment, type AssignIn, type AssignPreview, type PartDetail, type SectionOut } from '../../api/gen'
import { usePart, useSections } from '../../shared/lib/part.queries'
import { clock, minutes } from '../../shared/lib/time'
import { useTray, type TrayItem } from '../../shared/lib/tray'
import { LevelMark } from '../../shared/ui/LevelMark'
import { PartHead } from '../../shared/ui/PartHead'
import { Empty, Failed, Loading } from '../../shared/ui/states'

export default function Assign() {
  const { partId = '' } = useParams()
  const part = usePart(partId)
  const sections = useSections()
  const failed = [part, sections].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!part.data || !sections.data) return <Loading what="Laying it out" />
  return <AssignView detail={part.data} sections={sections.data} />
}

function inDays(days: number): string {
  const date = new Date()
  date.setDate(date.getDate() + days)
  const pad = (n: number) => String(n).padStart(2, '0')
  return `${date.getFullYear()}-${pad(date.getMonth() + 1)}-${pad(date.getDate())}`
}

/** The section whose name starts like the part's instrument, or the first with players. */
function likelySection(sections: SectionOut[], instrument: string): string {
  const stem = instrument.slice(0, 5).toLowerCase()
  const filled = sections.filter((s) => s.students.length > 0)
  return (filled.find((s) => s.name.toLowerCase().startsWith(stem)) ?? filled[0])?.id ?? ''
}

function AssignView({ detail, sections }: { detail: PartDetail; sections: SectionOut[] }) {
  const tray = useTray(detail.part.id)
  const client = useQueryClient()
  const navigate = useNavigate()
  const [sectionId, setSectionId] = useState(() => likelySection(sections, detail.part.instrument))
  const [dueOn, setDueOn] = useState(inDays(7))
  const [minutesADay, setMinutesADay] = useState(20)
  const [leftOut, setLeftOut] = useState<string[]>([])
  const wish: AssignIn = {
    part_id: detail.part.id,
    section_id: sectionId,
    due_on: dueOn,
    minutes_a_day: minutesADay,
    left_out: leftOut,
    items: tray.items.map((item) => ({
      chunk_id: item.chunkId,
      drill: item.drill,
      settings: item.settings,
      ladder: { start_bpm: item.start, goal_bpm: item.goal, step_bpm: item.step },
    })),
  }
  const isReady = tray.items.length > 0 && sectionId !== '' && dueOn !== ''
  const preview = useQuery({
    queryKey: ['assignment preview', wish],
    queryFn: () => ask(previewAssignment({ body: wish })),
    enabled: isReady,
    retry: false,
  })
  const send = useMutation({
    mutationFn: () => ask(sendAssignment({ body: wish })),
    onSuccess: async () => {
      tray.clear()
      await client.invalidateQueries({ queryKey: ['assignments'] })
      await navigate('/sent')
    },
  })
  if (tray.items.length === 0) {
    return (
      <div className="page">
        <PartHead detail={detail} />
        <Empty title="Nothing chosen yet">
          <p>Choose a chunk and a drill on the bench and add it here.</p>
          <Link to={`/parts/${detail.part.id}/bench`}>To the drill bench</Link>
        </Empty>
      </div>
    )
  }
  if (sections.length === 0) {
    return (
      <div className="page">
        <PartHead detail={detail} />
        <Empty title="Nobody to send this to yet">
          <p>Make a section and write its students in.</p>
          <Link to="/people">To People</Link>
        </Empty>
      </div>
    )
  }
  return (
    <div className="page">
      <PartHead detail={detail} />
      <h2>What</h2>
      <TrayList items={tray.items} remove={tray.remove} replace={tray.replace} />
      <h2>To whom, until when</h2>
      <div className="assign-fields">
        <label className="field">
          <span>Section</span>
          <Select
            aria-label="Section"
            value={sectionId || undefined}
            placeholder="Choose"
            onChange={(id: string) => {
              setSectionId(id)
              setLeftOut([])
            }}
            options={sections.map((s) => ({ value: s.id, label: `${s.name} (${s.students.length})` }))}
          />
        </label>
        <label className="field">
          <span>Due</span>
          <Input type="date" aria-label="Due date" value={dueOn} onChange={(event) => setDueOn(event.target.value)} />
        </label>
        <label className="field">
          <span>Minutes a day</span>
          <InputNumber
            aria-label="Minutes a day"
            min={5}
            max={120}
            value={minutesADay}
            onChange={(value) => setMinutesADay(value ?? 20)}
          />
        </label>
      </div>
      {preview.isError && <Alert type="error" showIcon title={said(preview.error)} role="alert" />}
      {preview.data && (
        <>
          <Feasibility preview={preview.data} />
          <PreviewTable preview={preview.data} leftOut={leftOut} setLeftOut={setLeftOut} />
        </>
      )}
      {send.isError && <Alert type="error" showIcon title={said(send.error)} role="alert" />}
      <Button type="primary" size="large" disabled={!preview.data || preview.isError} loading={send.isPending} onClick={() => send.mutate()}>
        Send it
      </Button>
    </div>
  )
}

interface ListProps {
  items: TrayItem[]
  remove: (key: string) => void
  replace: (items: TrayItem[]) => void
}

function TrayList({ items, remove, replace }: ListProps) {
  const earlier = (i: number) => {
    const next = [...items]
    const moved = next.splice(i, 1)
    next.splice(i - 1, 0, ...moved)
    replace(next)
  }
  return (
    <ol className="tray">
      {items.map((item, i) => (
        <li key={item.key}>
          <strong>{item.chunk}</strong> {item.title}
          <span className="muted">
            {' '}
            {item.start} to {item.goal} by {item.step}; climb {clock(item.climbSeconds)}
          </span>
          <span className="row-actions">
            <Button size="small" type="text" disabled={i === 0} onClick={() => earlier(i)} aria-label={`${item.chunk} ${item.title} earlier`}>
              Earlier
            </Button>
            <Button size="small" type="text" onClick={() => remove(item.key)} aria-label={`Take out ${item.chunk} ${item.title}`}>
              Take out
            </Button>
          </span>
        </li>
      ))}
    </ol>
  )
}

function Feasibility({ preview }: { preview: AssignPreview }) {
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

function PreviewTable({ preview, leftOut, setLeftOut }: TableProps) {
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
