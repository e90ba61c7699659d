import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { ask } from '../../api/ask'
import { getWeek, type DoneWeekOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { csvOf, download } from '../../shared/lib/csv'
import { day } from '../../shared/lib/time'
import { useAddress } from '../../shared/lib/useAddress'
import { Failed, Loading } from '../../shared/ui/states'

const A_WEEK = 7

function moved(date: string, days: number): string {
  const at = new Date(`${date}T12:00:00Z`)
  at.setUTCDate(at.getUTCDate() + days)
  return at.toISOString().slice(0, 10)
}

/** What was done in a week. How well somebody plays stands elsewhere, and neither counts for the other. */
export function WeekWall() {
  const [address, setAddress] = useAddress()
  const asked = address.get('day') ?? ''
  const week = useQuery({
    queryKey: keys.wall.week(asked),
    queryFn: () => ask(getWeek({ query: asked ? { day: asked } : {} })),
    placeholderData: keepPreviousData,
  })
  if (week.isPending) return <Loading what="Counting days" />
  if (week.isError) return <Failed error={week.error} retry={() => void week.refetch()} />
  const { first, last } = week.data
  const sections = [...new Set(week.data.rows.map((row) => row.section))]
  const only = sections.find((name) => name === address.get('only')) ?? ''
  const rows = week.data.rows.filter((row) => only === '' || row.section === only)
  const quiet = rows.filter((row) => row.days === 0).length
  return (
    <>
      <div className="inline wall-tools">
        <Button aria-label="The week before" onClick={() => setAddress({ day: moved(first, -A_WEEK) })}>
          ←
        </Button>
        <strong>
          {day(first)} to {day(last)}
        </strong>
        <Button aria-label="The week after" onClick={() => setAddress({ day: moved(first, A_WEEK) })}>
          →
        </Button>
        <Select
          aria-label="Section"
          allowClear
          placeholder="All sections"
          value={only || null}
          onChange={(next: string | null) => setAddress({ only: next ?? '' }, { replace: true })}
          options={sections.map((name) => ({ value: name, label: name }))}
          style={{ minWidth: 160 }}
        />
        <Button onClick={() => download(`week-${first}.csv`, csvOf(linesOf({ ...week.data, rows })))}>CSV</Button>
        <Button onClick={() => window.print()}>Print</Button>
      </div>
      <p className="muted">
        Practice that was counted, {rows.length - quiet} of {rows.length} students. It says nothing of how well anybody
        plays, and nothing here moves a level.
      </p>
      <table className="plain week">
        <thead>
          <tr>
            <th scope="col">Student</th>
            <th scope="col">Section</th>
            <th scope="col">Days</th>
            <th scope="col">Minutes</th>
            <th scope="col">Repetitions</th>
            <th scope="col">Takes</th>
            <th scope="col">Log</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={`${row.section} ${row.student_id}`} className={row.days === 0 ? 'muted' : ''}>
              <th scope="row">{row.name}</th>
              <td>{row.section}</td>
              <td>{row.days}</td>
              <td>{row.minutes}</td>
              <td>{row.repetitions}</td>
              <td>{row.takes}</td>
              <td>{row.has_log ? 'written' : ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

function linesOf(week: DoneWeekOut): string[][] {
  const head = ['Student', 'Section', 'Days', 'Minutes', 'Repetitions', 'Takes', 'Log']
  return [
    head,
    ...week.rows.map((row) => [
      row.name,
      row.section,
      String(row.days),
      String(row.minutes),
      String(row.repetitions),
      String(row.takes),
      row.has_log ? 'yes' : '',
    ]),
  ]
}
