import { useQuery } from '@tanstack/react-query'
import { Button, Drawer } from 'antd'
import { useState } from 'react'
import { ask } from '../../api/ask'
import { getDiary, listNews, type LineOut, type NewsOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { categoryName } from '../../shared/pure/categories'
import { clock, day } from '../../shared/pure/time'
import { Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'

const FEELINGS: Record<string, string> = {
  hurts: t('wall.saidThatItHurts'),
  tight: t('wall.feltTight'),
  tired: t('wall.wasTired'),
}
const SHOWN = 5

/** What students said this week that a teacher should see; nothing where nobody did. */
export function News() {
  const news = useQuery({ queryKey: keys.news, queryFn: () => ask(listNews()) })
  const [of, setOf] = useState<NewsOut | null>(null)
  const found = news.data ?? []
  if (found.length === 0) return null
  return (
    <section className="news" aria-label={t('wall.studentsNotesThisWeek')}>
      <ul>
        {found.slice(0, SHOWN).map((one) => (
          <li key={`${one.student_id} ${one.line.at}`} className={one.line.said.what === 'hurts' ? 'hurts' : ''}>
            <Button type="link" size="small" onClick={() => setOf(one)}>
              {one.student}
            </Button>{' '}
            {inWords(one.line)}, {day(one.line.day)}.
            {one.line.said.what === 'hurts' && t('wall.talkToThemBeforeTheyPlay')}
          </li>
        ))}
      </ul>
      {found.length > SHOWN && <p className="muted">{t('wall.andMore', { more: found.length - SHOWN })}</p>}
      <Drawer
        open={of !== null}
        onClose={() => setOf(null)}
        title={of ? t('wall.diaryOf', { student: of.student }) : ''}
        size="large"
      >
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
  if (diary.isPending) return <Loading what={t('wall.openingTheDiary')} />
  if (diary.isError) return <Failed error={diary.error} retry={() => void diary.refetch()} />
  const { seconds, lines } = diary.data
  return (
    <>
      <p>
        {Object.entries(seconds)
          .map(([category, spent]) => `${categoryName(category)} ${clock(spent)}`)
          .join(', ') || t('wall.noMinutesYet')}
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
      return t('wall.toneBeforeAfter', {
        before: said.before,
        after: said.after,
        detail: said.what ? ` (${said.what})` : '',
      })
    case 'stamina':
      return t('wall.slowWorkHeld', {
        clock: clock(Number(said.seconds)),
        loud: said.loud ? t('wall.tensionLoud', { loud: said.loud }) : '',
        soft: said.soft ? t('wall.soft', { soft: said.soft }) : '',
      })
    case 'journal':
      return [said.what && t('wall.workedOn', { what: said.what }), said.hard && t('wall.hard', { what: said.hard })]
        .filter(Boolean)
        .join('; ')
    case 'bookmark':
      return t('wall.stopAndStartFragmentOf', { fragment: Number(said.fragment) + 1, of: said.of })
    case 'refused':
      return t('wall.couldNotHandSomethingIn', { said: said.said })
    case 'minutes':
      return `${categoryName(String(said.category))} ${clock(Number(said.seconds))}`
  }
}
