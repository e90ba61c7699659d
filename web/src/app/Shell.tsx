import { LogoutOutlined, MoonOutlined, SunOutlined } from '@ant-design/icons'
import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { NavLink, Outlet, useNavigate } from 'react-router'
import { ask } from '../api/ask'
import { signOut, type Me } from '../api/gen'
import { keys } from '../api/keys'
import { keep } from '../practice/queryPersistence'
import { useHasTakes, useSentTakes } from '../shared/hooks/useTakes'
import { NewVersion } from './NewVersion'
import { pagesOf } from './pages'
import { t } from '../words/words'

interface Props {
  me: Me
  isDark: boolean
  toggleDark: () => void
}

function Corner({ isDark, toggleDark }: Omit<Props, 'me'>) {
  const client = useQueryClient()
  const navigate = useNavigate()
  async function leave() {
    await ask(signOut())
    await navigate('/')
    client.setQueryData(keys.me, null)
    await keep(client)
    // The next person at this screen starts with nothing of this one's. What the door itself asks is
    // nobody's, and may be on its way just now: taken away, it would never come.
    const atTheDoor: unknown[] = [keys.me[0], keys.setup[0]]
    client.removeQueries({ predicate: (query) => !atTheDoor.includes(query.queryKey[0]) })
  }
  return (
    <>
      <Button
        type="text"
        title={isDark ? t('app.lightScreen') : t('app.darkScreenForDimRooms')}
        aria-label={isDark ? t('app.lightScreen') : t('app.darkScreenForDimRooms')}
        icon={isDark ? <SunOutlined /> : <MoonOutlined />}
        onClick={toggleDark}
      />
      <Button
        type="text"
        title={t('app.signOut')}
        aria-label={t('app.signOut')}
        icon={<LogoutOutlined />}
        onClick={() => void leave()}
      />
    </>
  )
}

function Brand() {
  return (
    <NavLink to="/" className="brand" aria-label={t('app.crumbFirstPage')}>
      <svg viewBox="0 0 32 32" width="30" height="30" aria-hidden="true">
        <path
          d="M4 12c0-5 5-8 12-8s12 3 12 8c0 2-1 3-2 4v10a2 2 0 0 1-2 2H8a2 2 0 0 1-2-2V16c-1-1-2-2-2-4z"
          fill="var(--warm)"
        />
        <path d="M9 17h14M9 20h14M9 23h14" stroke="var(--surface)" strokeWidth="1.4" />
      </svg>
      {t('app.crumb')}
    </NavLink>
  )
}

/** The masthead's links: where the rights of the signed-in person lead. */
function Links({ me, hides = [] }: { me: Me; hides?: string[] }) {
  return pagesOf(me.rights)
    .filter((page) => page.link && !hides.includes(page.path))
    .map((page) => (
      <NavLink key={page.path} to={page.path} end={page.path === '/'}>
        {page.link}
      </NavLink>
    ))
}

export function DirectorShell({ me, ...look }: Props) {
  return (
    <div className="shell">
      <a className="skip" href="#main">
        {t('app.skipToTheContent')}
      </a>
      <header className="masthead">
        <Brand />
        <nav aria-label={t('app.main')}>
          <Links me={me} />
        </nav>
        <span className="whose">
          {me.program}
          <em>{me.name}</em>
        </span>
        <Corner {...look} />
      </header>
      <NewVersion />
      <main id="main">
        <Outlet />
      </main>
    </div>
  )
}

export function StudentShell({ me, ...look }: Props) {
  const hasTakes = useHasTakes()
  useSentTakes(me)
  return (
    <div className="shell student">
      <header className="masthead">
        <Brand />
        <nav aria-label={t('app.main')}>
          <Links me={me} hides={hasTakes ? [] : ['/takes']} />
        </nav>
        <span className="whose">
          <em>{me.name}</em>
        </span>
        <Corner {...look} />
      </header>
      <NewVersion />
      <main id="main">
        <Outlet />
      </main>
    </div>
  )
}
