import { lazy, type ReactNode } from 'react'
import type { Me } from '../api/gen'
import { t } from '../words/words'

const Desk = lazy(() => import('../features/desk/Desk'))
const Score = lazy(() => import('../features/score/Score'))
const Hearing = lazy(() => import('../features/hearing/Hearing'))
const Rehearse = lazy(() => import('../features/rehearse/Rehearse'))
const Podium = lazy(() => import('../features/rehearse/Podium'))
const Music = lazy(() => import('../features/music/Music'))
const Splitter = lazy(() => import('../features/splitter/Splitter'))
const Bench = lazy(() => import('../features/bench/Bench'))
const Assign = lazy(() => import('../features/assign/Assign'))
const Plan = lazy(() => import('../features/plan/Plan'))
const Plans = lazy(() => import('../features/plan/Plans'))
const Sent = lazy(() => import('../features/assign/Sent'))
const Sheets = lazy(() => import('../features/sheets/Sheets'))
const Wall = lazy(() => import('../features/wall/Wall'))
const People = lazy(() => import('../features/people/People'))
const OwnAccount = lazy(() => import('../features/people/OwnAccount'))
const Helped = lazy(() => import('../features/people/Helped'))
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
