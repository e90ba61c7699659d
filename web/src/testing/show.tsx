import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import type { ReactElement } from 'react'
import { MemoryRouter } from 'react-router'

/** What the server answered before, by query key. */
export type Answered = [readonly unknown[], unknown][]

/** Draw a part of the page with what the server has answered; nothing is asked of a server. */
export function show(part: ReactElement, answered: Answered = []) {
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity, retry: false } } })
  answered.forEach(([key, data]) => client.setQueryData(key, data))
  return render(
    <QueryClientProvider client={client}>
      <MemoryRouter>{part}</MemoryRouter>
    </QueryClientProvider>,
  )
}
