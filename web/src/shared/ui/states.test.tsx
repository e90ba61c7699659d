import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it, vi } from 'vitest'
import { ApiError } from '../../api/ask'
import { show } from '../../testing/show'
import { Empty, Failed, Loading } from './states'

describe('what a page shows instead of its data', () => {
  it('says what is being loaded', () => {
    show(<Loading what="Loading the Wall" />)
    expect(screen.getByRole('status').textContent).toContain('Loading the Wall')
  })

  it('says why it failed, and tries again', async () => {
    const retry = vi.fn()
    show(<Failed error={new ApiError(503, 'The school is asleep.')} retry={retry} />)
    expect(screen.getByRole('alert').textContent).toContain('The school is asleep.')
    await userEvent.click(screen.getByRole('button', { name: 'Try again' }))
    expect(retry).toHaveBeenCalledOnce()
  })

  it('offers no second try where there is none', () => {
    show(<Failed error={new ApiError(404, 'There is no such piece.')} />)
    expect(screen.queryByRole('button')).toBeNull()
  })

  it('says what to do where there is nothing yet', () => {
    show(<Empty title="No music yet">Bring in an etude.</Empty>)
    expect(screen.getByRole('heading', { name: 'No music yet' }).parentElement?.textContent).toContain(
      'Bring in an etude.',
    )
  })
})
