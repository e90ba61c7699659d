import { MutationCache, QueryCache, QueryClient, QueryClientProvider, useQueryClient } from '@tanstack/react-query'
import { ConfigProvider } from 'antd'
import { lazy, Suspense, useEffect, useState } from 'react'
import { BrowserRouter, Navigate, Route, Routes } from 'react-router'
import { ApiError } from '../api/ask'
import { Failed, Loading } from '../shared/ui/states'
import { Mishap } from './Mishap'
import { StudentShell } from './Shell'
import { sessionKeys, useMe, useSetup } from './session'
import { useStudentDay } from './useStudentDay'
import { crumbTheme } from './theme'

const AtTheDesk = lazy(() => import('./AtTheDesk'))
const WithMessages = lazy(() => import('./WithMessages'))
const Invited = lazy(() => import('../features/signin/Invited'))
const SignIn = lazy(() => import('../features/signin/SignIn'))
const Setup = lazy(() => import('../features/signin/Setup'))
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

export const queries = new QueryClient({
  queryCache: new QueryCache({ onError: whenSignedOut }),
  mutationCache: new MutationCache({ onError: whenSignedOut }),
  defaultOptions: {
    mutations: { networkMode: 'always' },
    queries: {
      // Without a network a request fails and says so; it is not put off in silence.
      networkMode: 'always',
      retry: (count, error) =>
        navigator.onLine && (error instanceof ApiError ? error.isPassing && count < 3 : count < 2),
      retryDelay: (count, error) =>
        error instanceof ApiError && error.retryAfter !== null ? error.retryAfter * 1000 : 500 * 2 ** count,
      refetchOnWindowFocus: false,
    },
  },
})

/** A session that ran out leads to the sign-in; what was played waits in the outbox. */
function whenSignedOut(error: Error) {
  if (error instanceof ApiError && error.status === 401)
    queries.setQueryData(sessionKeys.me, (me: unknown) => me && null)
}

function readDark(): boolean {
  const chosen = localStorage.getItem('crumb.dark')
  return chosen === null ? window.matchMedia('(prefers-color-scheme: dark)').matches : chosen === 'yes'
}

export function App() {
  const [isDark, setDark] = useState(readDark)
  useEffect(() => {
    document.documentElement.dataset.theme = isDark ? 'dark' : 'light'
  }, [isDark])
  function toggle() {
    localStorage.setItem('crumb.dark', isDark ? 'no' : 'yes')
    setDark(!isDark)
  }
  return (
    <ConfigProvider theme={crumbTheme(isDark)} wave={{ disabled: true }}>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Mishap>
            <Suspense fallback={<Loading what="Opening" />}>
              <Pages isDark={isDark} toggleDark={toggle} />
            </Suspense>
          </Mishap>
        </BrowserRouter>
      </QueryClientProvider>
    </ConfigProvider>
  )
}

interface Look {
  isDark: boolean
  toggleDark: () => void
}

function Pages(look: Look) {
  const me = useMe()
  const setup = useSetup(me.data === null)
  const client = useQueryClient()
  useStudentDay(me.data ?? null)
  if (me.isError && me.data === undefined) {
    return <Failed error={me.error} retry={() => void client.invalidateQueries({ queryKey: sessionKeys.me })} />
  }
  if (me.data === undefined) return <Loading what="Opening Crumb" />
  if (me.data === null) {
    if (setup.isError) return <Failed error={setup.error} retry={() => void setup.refetch()} />
    if (!setup.data) return <Loading what="Opening Crumb" />
    if (setup.data.is_empty) return <Setup />
    return (
      <Routes>
        <Route path="/invited/:token" element={<Invited />} />
        <Route path="*" element={<SignIn />} />
      </Routes>
    )
  }
  if (me.data.role === 'student') {
    return (
      <Routes>
        <Route path="/stand/:itemId" element={<Stand me={me.data} />} />
        <Route element={<StudentShell me={me.data} {...look} />}>
          <Route path="/" element={<Today me={me.data} />} />
          <Route path="/done" element={<Done me={me.data} />} />
          <Route path="/map" element={<MyMusic />} />
          <Route path="/takes" element={<Takes me={me.data} />} />
          <Route element={<WithMessages />}>
            <Route path="/sheets" element={<Sheets />} />
            <Route path="/sheets/:code" element={<Sheets />} />
            <Route path="/map/:partId" element={<MyScore />} />
          </Route>
        </Route>
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    )
  }
  if (me.data.role === 'helper') {
    return (
      <Routes>
        <Route element={<AtTheDesk me={me.data} {...look} />}>
          <Route path="/helped" element={<Helped />} />
          <Route path="/sheets" element={<Sheets />} />
          <Route path="/sheets/:code" element={<Sheets />} />
          <Route path="/account" element={<OwnAccount />} />
        </Route>
        <Route path="*" element={<Navigate to="/helped" replace />} />
      </Routes>
    )
  }
  if (me.data.role === 'assistant') {
    return (
      <Routes>
        <Route element={<AtTheDesk me={me.data} {...look} />}>
          <Route path="/hearing" element={<Hearing />} />
          <Route path="/wall" element={<Wall />} />
          <Route path="/account" element={<OwnAccount />} />
        </Route>
        <Route path="*" element={<Navigate to="/hearing" replace />} />
      </Routes>
    )
  }
  return (
    <Routes>
      <Route element={<AtTheDesk me={me.data} {...look} />}>
        <Route path="/" element={<Desk />} />
        <Route path="/music" element={<Music />} />
        <Route path="/pieces/:pieceId" element={<Score />} />
        <Route path="/hearing" element={<Hearing />} />
        <Route path="/rehearse" element={<Rehearse />} />
        <Route path="/rehearse/:rehearsalId" element={<Podium />} />
        <Route path="/parts/:partId/split" element={<Splitter />} />
        <Route path="/parts/:partId/bench" element={<Bench />} />
        <Route path="/parts/:partId/assign" element={<Assign />} />
        <Route path="/parts/:partId/plan" element={<Plan />} />
        <Route path="/plans" element={<Plans />} />
        <Route path="/plans/:planId" element={<Plan />} />
        <Route path="/sent" element={<Sent />} />
        <Route path="/sheets" element={<Sheets />} />
        <Route path="/sheets/:code" element={<Sheets />} />
        <Route path="/wall" element={<Wall />} />
        <Route path="/people" element={<People me={me.data} />} />
      </Route>
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  )
}
