import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { describe, expect, it, vi } from 'vitest'
import { ApiError } from '../../api/ask'
import type { ImportOut } from '../../api/gen'
import { show } from '../../testing/show'
import { Importing } from './Importing'

const job = (more: Partial<ImportOut>): ImportOut => ({
  id: 'j',
  file_name: 'etude.mxl',
  state: 'working',
  stage: '',
  done: 0,
  total: 0,
  message: '',
  piece: null,
  ...more,
})
const idle = { job: undefined, refusal: null, isRunning: false, forget: vi.fn(), stop: vi.fn() }

describe('an import', () => {
  it('shows nothing before there is one', () => {
    const { container } = show(<Importing {...idle} />)
    expect(container.textContent).toBe('')
  })

  it('says that the file is on its way, and cannot be stopped yet', () => {
    show(<Importing {...idle} isRunning />)
    expect(screen.getByRole('status').textContent).toContain('Sending the file')
    expect(screen.queryByRole('button')).toBeNull()
  })

  it('waits behind another one', () => {
    show(<Importing {...idle} isRunning job={job({ state: 'waiting' })} />)
    expect(screen.getByRole('status').textContent).toContain('Waiting for another import to finish')
  })

  it('shows how far it is, and can be cancelled', async () => {
    const stop = vi.fn()
    show(<Importing {...idle} isRunning stop={stop} job={job({ stage: 'reading', done: 3, total: 4 })} />)
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('75')
    expect(screen.getByRole('status').textContent).toContain('You can leave this page meanwhile.')
    await userEvent.click(screen.getByRole('button', { name: 'Cancel' }))
    expect(stop).toHaveBeenCalledOnce()
  })

  it.each([
    [{ refusal: new ApiError(413, 'This file is larger than 20 MB.') }, 'This file is larger than 20 MB.'],
    [{ job: job({ state: 'failed', message: 'Measure 12 has no notes.' }) }, 'Measure 12 has no notes.'],
  ])('says why it was refused, and that nothing was stored', (more, reason) => {
    show(<Importing {...idle} {...more} />)
    expect(screen.getByRole('alert').textContent).toContain(reason)
    expect(screen.getByRole('alert').textContent).toContain('Nothing was stored.')
  })

  it('says that it was cancelled, and can be put away', async () => {
    const forget = vi.fn()
    show(<Importing {...idle} forget={forget} job={job({ state: 'cancelled' })} />)
    expect(screen.getByRole('status').textContent).toContain('Cancelled. Nothing was stored.')
    await userEvent.click(screen.getByRole('button'))
    expect(forget).toHaveBeenCalledOnce()
  })
})
