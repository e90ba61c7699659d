import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Me } from '../../api/gen'
import type { SyncState } from '../../practice/syncQueue'
import { show } from '../../testing/show'
import { SyncStatus } from './SyncStatus'

const queue = { forgetRefused: vi.fn() }
const idle: SyncState = { unsent: 0, refused: [], isMemoryOnly: false, sent: 'all' }
let state: SyncState

vi.mock('../hooks/useSyncQueue', () => ({ useSyncQueue: () => ({ queue, ...state }) }))

const ME = { name: 'Nia Brook', class_code: 'OAK' } as Me
const refused = {
  entry: { kind: 'played', id: '1' },
  said: 'This drill was taken back.',
} as unknown as SyncState['refused'][0]

describe('what is saved where', () => {
  beforeEach(() => {
    state = idle
    queue.forgetRefused.mockReset()
  })

  it('is silent while everything is handed in', () => {
    const { container } = show(<SyncStatus me={ME} />)
    expect(container.textContent).toBe('')
  })

  it('says how much of the day is on the device', () => {
    const { rerender } = show(<SyncStatus me={ME} day={{ kept: 1, of: 3 }} />)
    expect(screen.getByText(/being saved on this device: 1 of 3/)).toBeTruthy()
    rerender(<SyncStatus me={ME} day={{ kept: 3, of: 3 }} />)
    expect(screen.getByText(/opens without a network/)).toBeTruthy()
  })

  it('counts what the server does not have yet', () => {
    state = { ...idle, unsent: 4, sent: 'away' }
    show(<SyncStatus me={ME} />)
    expect(screen.getByRole('status').textContent).toBe('4 saved on this device, not handed in yet.')
  })

  it('asks a student who is signed out to sign in again by name', () => {
    state = { ...idle, unsent: 4, sent: 'signed out' }
    show(<SyncStatus me={ME} />)
    expect(screen.getByRole('status').textContent).toContain('sign in again as Nia Brook')
  })

  it('warns where the device has no room', () => {
    state = { ...idle, unsent: 1, isMemoryOnly: true }
    show(<SyncStatus me={ME} />)
    expect(screen.getByRole('alert').textContent).toContain('Leave this page open until it is sent.')
  })

  it('says why the server refused an entry, and sends each to the teacher once', async () => {
    state = { ...idle, refused: [refused, refused] }
    const tell = vi.fn()
    show(<SyncStatus me={ME} tell={tell} />)
    expect(screen.getByRole('alert').textContent).toContain('The server refused 2 of your entries.')
    expect(screen.getByRole('alert').textContent).toContain('This drill was taken back.')
    await userEvent.click(screen.getByRole('button', { name: 'Send it to my teacher' }))
    expect(tell).toHaveBeenCalledTimes(2)
    expect(queue.forgetRefused).toHaveBeenCalledOnce()
  })
})
