import { LogoutOutlined, MoonOutlined, SunOutlined } from '@ant-design/icons'
import { useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { NavLink, Outlet, useNavigate } from 'react-router'
import { ask } from '../api/ask'
import { signOut, type Me } from '../api/gen'
import { keep } from '../practice/keeping'
import { useHasTakes, useSentTakes } from '../shared/lib/useTakes'
import { NewVersion } from './NewVersion'
import { sessionKeys } from './session'

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
    client.setQueryData(sessionKeys.me, null)
    await keep(client)
    // The next person at this screen starts with nothing of this one's. What the door itself asks is
    // nobody's, and may be on its way just now: taken away, it would never come.
    const atTheDoor: unknown[] = [sessionKeys.me[0], sessionKeys.setup[0]]
    client.removeQueries({ predicate: (query) => !atTheDoor.includes(query.queryKey[0]) })
  }
  return (
    <>
      <Button
        type="text"
        title={isDark ? 'Light paper' : 'Dark, for dim rooms'}
        aria-label={isDark ? 'Light paper' : 'Dark, for dim rooms'}
        icon={isDark ? <SunOutlined /> : <MoonOutlined />}
        onClick={toggleDark}
      />
      <Button
        type="text"
        title="Sign out"
        aria-label="Sign out"
        icon={<LogoutOutlined />}
        onClick={() => void leave()}
      />
    </>
  )
}

function Brand() {
  return (
    <NavLink to="/" className="brand" aria-label="Crumb, to the first page">
      <svg viewBox="0 0 32 32" width="30" height="30" aria-hidden="true">
        <path
          d="M4 12c0-5 5-8 12-8s12 3 12 8c0 2-1 3-2 4v10a2 2 0 0 1-2 2H8a2 2 0 0 1-2-2V16c-1-1-2-2-2-4z"
          fill="var(--warm)"
        />
        <path d="M9 17h14M9 20h14M9 23h14" stroke="var(--surface)" strokeWidth="1.4" />
      </svg>
      Crumb
    </NavLink>
  )
}

type Right = Me['rights'][number]

/** Where one can go at the desk: the right that each page needs first, and the one that leads there another way. */
const LINKS: { to: string; say: string; needs: Right; unless?: Right }[] = [
  { to: '/', say: 'Desk', needs: 'send' },
  { to: '/music', say: 'Music', needs: 'keep_music' },
  { to: '/hearing', say: 'Hearing', needs: 'hear' },
  { to: '/rehearse', say: 'Rehearse', needs: 'send' },
  { to: '/plans', say: 'Plans', needs: 'send' },
  { to: '/sent', say: 'Assignments', needs: 'send' },
  { to: '/sheets', say: 'Sheets', needs: 'tick' },
  { to: '/wall', say: 'Wall', needs: 'see_players' },
  { to: '/people', say: 'People', needs: 'keep_people' },
  { to: '/account', say: 'Account', needs: 'keep_account', unless: 'keep_people' },
]

export function DirectorShell({ me, ...look }: Props) {
  return (
    <div className="shell">
      <a className="skip" href="#main">
        To the content
      </a>
      <header className="masthead">
        <Brand />
        <nav aria-label="Main">
          {LINKS.filter(
            ({ needs, unless }) => me.rights.includes(needs) && !(unless && me.rights.includes(unless)),
          ).map((link) => (
            <NavLink key={link.to} to={link.to} end={link.to === '/'}>
              {link.say}
            </NavLink>
          ))}
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
        <nav aria-label="Main">
          <NavLink to="/" end>
            Today
          </NavLink>
          <NavLink to="/map">My music</NavLink>
          {hasTakes && <NavLink to="/takes">Takes</NavLink>}
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
