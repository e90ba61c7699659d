import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { ask } from '../../api/ask'
import { getWeek, type DoneWeekOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { csvOf, download } from '../../shared/hooks/csv'
import { day } from '../../shared/pure/time'
import { useAddress } from '../../shared/hooks/useAddress'
import { Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'

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
  if (week.isPending) return <Loading what={t('wall.loadingTheWeek')} />
  if (week.isError) return <Failed error={week.error} retry={() => void week.refetch()} />
  const { first, last } = week.data
  const sections = [...new Set(week.data.rows.map((row) => row.section))]
  const only = sections.find((name) => name === address.get('only')) ?? ''
  const rows = week.data.rows.filter((row) => only === '' || row.section === only)
  const quiet = rows.filter((row) => row.days === 0).length
  return (
    <>
      <div className="inline wall-tools">
        <Button aria-label={t('wall.theWeekBefore')} onClick={() => setAddress({ day: moved(first, -A_WEEK) })}>
          ←
        </Button>
        <strong>{t('wall.to', { first: day(first), last: day(last) })}</strong>
        <Button aria-label={t('wall.theWeekAfter')} onClick={() => setAddress({ day: moved(first, A_WEEK) })}>
          →
        </Button>
        <Select
          aria-label={t('wall.section')}
          allowClear
          placeholder={t('wall.allSections')}
          value={only || null}
          onChange={(next: string | null) => setAddress({ only: next ?? '' }, { replace: true })}
          options={sections.map((name) => ({ value: name, label: name }))}
          style={{ minWidth: 160 }}
        />
        <Button onClick={() => download(`week-${first}.csv`, csvOf(linesOf({ ...week.data, rows })))}>
          {t('wall.csv')}
        </Button>
        <Button onClick={() => window.print()}>{t('wall.print')}</Button>
      </div>
      <p className="muted">
        {t('wall.countedPracticeOfOfStudentsIt', { practiced: rows.length - quiet, rowsCount: rows.length })}
      </p>
      <table className="plain week">
        <thead>
          <tr>
            <th scope="col">{t('wall.student')}</th>
            <th scope="col">{t('wall.section')}</th>
            <th scope="col">{t('wall.days')}</th>
            <th scope="col">{t('wall.minutes')}</th>
            <th scope="col">{t('wall.repetitions')}</th>
            <th scope="col">{t('wall.takes')}</th>
            <th scope="col">{t('wall.log')}</th>
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
              <td>{row.has_log ? t('wall.written') : ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

function linesOf(week: DoneWeekOut): string[][] {
  const head = [
    t('wall.student'),
    t('wall.section'),
    t('wall.days'),
    t('wall.minutes'),
    t('wall.repetitions'),
    t('wall.takes'),
    t('wall.log'),
  ]
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
