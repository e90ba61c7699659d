import { MutationCache, QueryCache, QueryClient, QueryClientProvider, useQueryClient } from '@tanstack/react-query'
import { ConfigProvider } from 'antd'
import { lazy, Suspense, useEffect, useState } from 'react'
import { BrowserRouter, Navigate, Route, Routes } from 'react-router'
import { ApiError } from '../api/ask'
import type { Me } from '../api/gen'
import { keys } from '../api/keys'
import { Failed, Loading } from '../shared/ui/states'
import { ErrorBoundary } from './ErrorBoundary'
import { pagesOf, type Frame } from './pages'
import { StudentShell } from './Shell'
import { useMe, useSetup } from './session'
import { useSchoolWords } from './useSchoolWords'
import { useStudentDay } from './useStudentDay'
import { crumbTheme } from './theme'
import { t } from '../words/words'

const AtTheDesk = lazy(() => import('./AtTheDesk'))
const WithMessages = lazy(() => import('./WithMessages'))
const Invited = lazy(() => import('../features/signin/Invited'))
const SignIn = lazy(() => import('../features/signin/SignIn'))
const Setup = lazy(() => import('../features/signin/Setup'))

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
  if (error instanceof ApiError && error.status === 401) queries.setQueryData(keys.me, (me: unknown) => me && null)
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
          <ErrorBoundary>
            <Suspense fallback={<Loading what={t('app.opening')} />}>
              <Pages isDark={isDark} toggleDark={toggle} />
            </Suspense>
          </ErrorBoundary>
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
  useSchoolWords(me.data ?? null)
  if (me.isError && me.data === undefined) {
    return <Failed error={me.error} retry={() => void client.invalidateQueries({ queryKey: keys.me })} />
  }
  if (me.data === undefined) return <Loading what={t('app.openingCrumb')} />
  if (me.data === null) {
    if (setup.isError) return <Failed error={setup.error} retry={() => void setup.refetch()} />
    if (!setup.data) return <Loading what={t('app.openingCrumb')} />
    if (setup.data.is_empty) return <Setup />
    return (
      <Routes>
        <Route path="/invited/:token" element={<Invited />} />
        <Route path="*" element={<SignIn />} />
      </Routes>
    )
  }
  return <SignedIn me={me.data} look={look} />
}

/** The pages that the rights of the signed-in person open, each in its frame. */
function SignedIn({ me, look }: { me: Me; look: Look }) {
  const pages = pagesOf(me.rights)
  const framed = (frame: Frame) =>
    pages
      .filter((page) => page.frame === frame)
      .map((page) => <Route key={page.path} path={page.path} element={page.show(me)} />)
  return (
    <Routes>
      {framed('none')}
      <Route element={<StudentShell me={me} {...look} />}>
        {framed('student')}
        <Route element={<WithMessages />}>{framed('student with messages')}</Route>
      </Route>
      <Route element={<AtTheDesk me={me} {...look} />}>{framed('desk')}</Route>
      <Route path="*" element={<Navigate to={pages[0]?.path ?? '/'} replace />} />
    </Routes>
  )
}
