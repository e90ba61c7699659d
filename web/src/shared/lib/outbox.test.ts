import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ApiError } from '../../api/ask'
import { Outbox, type Waiting } from './outbox'

const kept = vi.hoisted(() => new Map<string, unknown>())

// The browser's database, replaced by a map.
vi.mock('idb-keyval', () => ({
  get: (key: string) => Promise.resolve(kept.get(key)),
  update: (key: string, change: (old: unknown) => unknown) => {
    kept.set(key, change(kept.get(key)))
    return Promise.resolve()
  },
}))

const entry = (id: string): Waiting => ({
  kind: 'played',
  id,
  item_id: 'item',
  step: 0,
  tempo_bpm: 82,
  is_clean: true,
  played_at: '2026-01-01T00:00:00Z',
})

describe('the outbox', () => {
  beforeEach(() => kept.clear())

  it('keeps what cannot be sent and sends it in order later', async () => {
    let isOnline = false
    const sent: string[] = []
    const outbox = new Outbox('me', (batch) => {
      if (!isOnline) return Promise.reject(new ApiError(0, 'no network'))
      sent.push(...batch.map((e) => e.id))
      return Promise.resolve()
    })
    await outbox.add(entry('a'))
    await outbox.add(entry('b'))
    expect(await outbox.flush()).toBe(false)
    expect(await outbox.waiting()).toHaveLength(2)
    isOnline = true
    expect(await outbox.flush()).toBe(true)
    expect(sent).toEqual(['a', 'b'])
    expect(await outbox.waiting()).toEqual([])
  })

  it('sets aside only the one that is refused', async () => {
    const sent: string[] = []
    const outbox = new Outbox('me', (batch) => {
      if (batch.some((e) => e.id === 'bad')) return Promise.reject(new ApiError(422, 'refused'))
      sent.push(...batch.map((e) => e.id))
      return Promise.resolve()
    })
    for (const id of ['a', 'bad', 'c']) await outbox.add(entry(id))
    expect(await outbox.flush()).toBe(true)
    expect(sent).toEqual(['a', 'c'])
    expect((await outbox.refused()).map((e) => e.id)).toEqual(['bad'])
  })

  it('keeps two people on one tablet apart', async () => {
    const send = () => Promise.reject(new ApiError(0, 'no network'))
    await new Outbox('me', send).add(entry('a'))
    expect(await new Outbox('you', send).waiting()).toEqual([])
  })

  it('does not set work aside because a session ran out', async () => {
    const outbox = new Outbox('me', () => Promise.reject(new ApiError(401, 'signed out')))
    await outbox.add(entry('a'))
    expect(await outbox.flush()).toBe(false)
    expect(await outbox.waiting()).toHaveLength(1)
  })
})
