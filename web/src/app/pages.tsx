import { lazy, type ComponentType, type ReactNode } from 'react'
import type { Me } from '../api/gen'
import { t } from '../words/words'

/** A page of the desk, and the desk's sentences before it. */
function atDesk<P>(load: () => Promise<{ default: ComponentType<P> }>) {
  return lazy(async () => {
    await import('../words/director')
    return load()
  })
}

const Desk = atDesk(() => import('../features/desk/Desk'))
const Score = atDesk(() => import('../features/score/Score'))
const Hearing = atDesk(() => import('../features/hearing/Hearing'))
const Rehearse = atDesk(() => import('../features/rehearse/Rehearse'))
const Podium = atDesk(() => import('../features/rehearse/Podium'))
const Music = atDesk(() => import('../features/music/Music'))
const Pages = atDesk(() => import('../features/pages/Pages'))
const PageEditor = atDesk(() => import('../features/pages/PageEditor'))
const Splitter = atDesk(() => import('../features/splitter/Splitter'))
const Bench = atDesk(() => import('../features/bench/Bench'))
const Assign = atDesk(() => import('../features/assign/Assign'))
const Plan = atDesk(() => import('../features/plan/Plan'))
const Plans = atDesk(() => import('../features/plan/Plans'))
const Sent = atDesk(() => import('../features/assign/Sent'))
const Sheets = atDesk(() => import('../features/sheets/Sheets'))
const Wall = atDesk(() => import('../features/wall/Wall'))
const People = atDesk(() => import('../features/people/People'))
const OwnAccount = atDesk(() => import('../features/people/OwnAccount'))
const Helped = atDesk(() => import('../features/people/Helped'))
const Today = lazy(() => import('../features/today/Today'))
const Stand = lazy(() => import('../features/stand/Stand'))
const Done = lazy(() => import('../features/today/Done'))
const MyMusic = lazy(() => import('../features/mymusic/MyMusic'))
const Takes = lazy(() => import('../features/takes/Takes'))
const MyScore = lazy(() => import('../features/mymusic/MyScore'))

export type Right = Me['rights'][number]

/**
 * What stands around a page: the masthead of the desk, that of a student with or without messages, or
 * nothing, where music needs the whole screen.
 */
export type Frame = 'desk' | 'student' | 'student with messages' | 'none'

export interface Page {
  path: string
  /** The right that opens the page, and one whose owner goes another way. */
  needs: Right
  unless?: Right
  frame: Frame
  /** The word in the masthead; without one, other pages lead here. */
  link?: string
  show: (me: Me) => ReactNode
}

/** Every page of a signed-in person, in the order of the masthead; the first of a person is their home. */
export const PAGES: readonly Page[] = [
  { path: '/', needs: 'practise', frame: 'student', link: t('app.today'), show: (me) => <Today me={me} /> },
  { path: '/stand/:itemId', needs: 'practise', frame: 'none', show: (me) => <Stand me={me} /> },
  { path: '/done', needs: 'practise', frame: 'student', show: (me) => <Done me={me} /> },
  { path: '/map', needs: 'practise', frame: 'student', link: t('app.myMusic'), show: () => <MyMusic /> },
  { path: '/map/:partId', needs: 'practise', frame: 'student with messages', show: () => <MyScore /> },
  { path: '/takes', needs: 'practise', frame: 'student', link: t('app.takes'), show: (me) => <Takes me={me} /> },
  { path: '/sheets', needs: 'practise', frame: 'student with messages', show: () => <Sheets /> },
  { path: '/sheets/:code', needs: 'practise', frame: 'student with messages', show: () => <Sheets /> },

  { path: '/', needs: 'send', frame: 'desk', link: t('app.desk'), show: () => <Desk /> },
  { path: '/music', needs: 'keep_music', frame: 'desk', link: t('app.music'), show: () => <Music /> },
  { path: '/pages/:setId', needs: 'keep_music', frame: 'desk', show: () => <Pages /> },
  { path: '/pages/:setId/:pageId', needs: 'keep_music', frame: 'desk', show: () => <PageEditor /> },
  { path: '/pieces/:pieceId', needs: 'keep_music', frame: 'desk', show: () => <Score /> },
  { path: '/parts/:partId/split', needs: 'keep_music', frame: 'desk', show: () => <Splitter /> },
  { path: '/parts/:partId/bench', needs: 'keep_music', frame: 'desk', show: () => <Bench /> },
  { path: '/parts/:partId/assign', needs: 'send', frame: 'desk', show: () => <Assign /> },
  { path: '/parts/:partId/plan', needs: 'send', frame: 'desk', show: () => <Plan /> },
  { path: '/hearing', needs: 'hear', frame: 'desk', link: t('app.hearing'), show: () => <Hearing /> },
  { path: '/rehearse', needs: 'send', frame: 'desk', link: t('app.rehearse'), show: () => <Rehearse /> },
  { path: '/rehearse/:rehearsalId', needs: 'send', frame: 'desk', show: () => <Podium /> },
  { path: '/plans', needs: 'send', frame: 'desk', link: t('app.plans'), show: () => <Plans /> },
  { path: '/plans/:planId', needs: 'send', frame: 'desk', show: () => <Plan /> },
  { path: '/sent', needs: 'send', frame: 'desk', link: t('app.assignments'), show: () => <Sent /> },
  { path: '/helped', needs: 'tick', unless: 'send', frame: 'desk', show: () => <Helped /> },
  { path: '/sheets', needs: 'tick', frame: 'desk', link: t('app.sheets'), show: () => <Sheets /> },
  { path: '/sheets/:code', needs: 'tick', frame: 'desk', show: () => <Sheets /> },
  { path: '/wall', needs: 'see_players', frame: 'desk', link: t('app.wall'), show: () => <Wall /> },
  { path: '/people', needs: 'keep_people', frame: 'desk', link: t('app.people'), show: (me) => <People me={me} /> },
  {
    path: '/account',
    needs: 'keep_account',
    unless: 'keep_people',
    frame: 'desk',
    link: t('app.account'),
    show: () => <OwnAccount />,
  },
]

/** The pages that somebody with these rights may open; a student has those of a student alone. */
export function pagesOf(rights: readonly Right[]): Page[] {
  const isStudent = rights.includes('practise')
  return PAGES.filter(
    (page) =>
      (page.needs === 'practise') === isStudent &&
      rights.includes(page.needs) &&
      !(page.unless && rights.includes(page.unless)),
  )
}
