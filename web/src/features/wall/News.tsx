import { useQuery } from '@tanstack/react-query'
import { Button, Drawer } from 'antd'
import { useState } from 'react'
import { ask } from '../../api/ask'
import { getDiary, listNews, type LineOut, type NewsOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { categoryName } from '../../shared/lib/categories'
import { clock, day } from '../../shared/lib/time'
import { Failed, Loading } from '../../shared/ui/states'

const FEELINGS: Record<string, string> = { hurts: 'said that it hurts', tight: 'felt tight', tired: 'was tired' }
const SHOWN = 5

/** What students said this week that a teacher should see; nothing where nobody did. */
export function News() {
  const news = useQuery({ queryKey: keys.news, queryFn: () => ask(listNews()) })
  const [of, setOf] = useState<NewsOut | null>(null)
  const found = news.data ?? []
  if (found.length === 0) return null
  return (
    <section className="news" aria-label="Said by students this week">
      <ul>
        {found.slice(0, SHOWN).map((one) => (
          <li key={`${one.student_id} ${one.line.at}`} className={one.line.said.what === 'hurts' ? 'hurts' : ''}>
            <Button type="link" size="small" onClick={() => setOf(one)}>
              {one.student}
            </Button>{' '}
            {inWords(one.line)}, {day(one.line.day)}.
            {one.line.said.what === 'hurts' && ' Talk to them before they play on; what it is, a clinician says.'}
          </li>
        ))}
      </ul>
      {found.length > SHOWN && <p className="muted">And {found.length - SHOWN} more.</p>}
      <Drawer open={of !== null} onClose={() => setOf(null)} title={of ? `Diary of ${of.student}` : ''} size="large">
        {of && <Diary studentId={of.student_id} />}
      </Drawer>
    </section>
  )
}

function Diary({ studentId }: { studentId: string }) {
  const diary = useQuery({
    queryKey: keys.diaryOf(studentId),
    queryFn: () => ask(getDiary({ path: { student_id: studentId } })),
  })
  if (diary.isPending) return <Loading what="Opening the diary" />
  if (diary.isError) return <Failed error={diary.error} retry={() => void diary.refetch()} />
  const { seconds, lines } = diary.data
  return (
    <>
      <p>
        {Object.entries(seconds)
          .map(([category, spent]) => `${categoryName(category)} ${clock(spent)}`)
          .join(', ') || 'No minutes yet.'}
      </p>
      <ul className="diary">
        {lines
          .filter((line) => line.kind !== 'minutes')
          .map((line) => (
            <li key={line.at}>
              <strong>{day(line.day)}</strong> {inWords(line)}.
            </li>
          ))}
      </ul>
    </>
  )
}

function inWords({ kind, said }: LineOut): string {
  switch (kind) {
    case 'feeling':
      return FEELINGS[String(said.what)] ?? ''
    case 'tone':
      return `tone ${said.before} before, ${said.after} after${said.what ? ` (${said.what})` : ''}`
    case 'stamina':
      return `slow work held ${clock(Number(said.seconds))}${said.loud ? `, tension ${said.loud} loud` : ''}${said.soft ? `, ${said.soft} soft` : ''}`
    case 'journal':
      return [said.what && `worked on: ${said.what}`, said.hard && `hard: ${said.hard}`].filter(Boolean).join('; ')
    case 'bookmark':
      return `stop and start: fragment ${Number(said.fragment) + 1} of ${said.of}`
    case 'refused':
      return `could not hand something in: ${said.said}`
    case 'minutes':
      return `${categoryName(String(said.category))} ${clock(Number(said.seconds))}`
  }
}
