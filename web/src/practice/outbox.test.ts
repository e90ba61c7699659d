import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ApiError } from '../api/ask'
import { handedIn, Outbox, type Waiting } from './outbox'

const kept = vi.hoisted(() => new Map<string, unknown>())
const isFull = vi.hoisted(() => ({ now: false }))

// The browser's database, replaced by a map.
vi.mock('idb-keyval', () => ({
  get: (key: string) => Promise.resolve(kept.get(key)),
  update: (key: string, change: (old: unknown) => unknown) => {
    if (isFull.now) return Promise.reject(new Error('QuotaExceededError'))
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
  beforeEach(() => {
    kept.clear()
    isFull.now = false
  })

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
    expect(await outbox.flush()).toBe('away')
    expect(await outbox.waiting()).toHaveLength(2)
    isOnline = true
    expect(await outbox.flush()).toBe('all')
    expect(sent).toEqual(['a', 'b'])
    expect(await outbox.waiting()).toEqual([])
  })

  it('sets aside only the one that is refused', async () => {
    const sent: string[] = []
    const told: string[] = []
    const send = (batch: Waiting[]) => {
      if (batch.some((e) => e.id === 'bad')) return Promise.reject(new ApiError(422, 'refused'))
      sent.push(...batch.map((e) => e.id))
      return Promise.resolve()
    }
    const outbox = new Outbox('me', send, Date.now, (batch) => told.push(...batch.map((e) => e.id)))
    for (const id of ['a', 'bad', 'c']) await outbox.add(entry(id))
    expect(await outbox.flush()).toBe('all')
    expect(sent).toEqual(['a', 'c'])
    expect(told).toEqual(['bad'])
    expect((await outbox.refused()).map((e) => [e.entry.id, e.said])).toEqual([['bad', 'refused']])
  })

  it('keeps two people on one tablet apart', async () => {
    const send = () => Promise.reject(new ApiError(0, 'no network'))
    await new Outbox('me', send).add(entry('a'))
    expect(await new Outbox('you', send).waiting()).toEqual([])
  })

  it('loses nothing when two tabs send at once', async () => {
    const sent: string[] = []
    let release: () => void = () => undefined
    const held = new Promise<void>((resolve) => {
      release = resolve
    })
    const one = new Outbox('me', async (batch) => {
      await held
      sent.push(...batch.map((e) => e.id))
    })
    const other = new Outbox('me', (batch) => {
      sent.push(...batch.map((e) => e.id))
      return Promise.resolve()
    })
    await one.add(entry('a'))
    const first = one.flush()
    await Promise.resolve()
    await other.flush()
    await other.add(entry('b'))
    release()
    await first
    await one.flush()
    expect(new Set(sent)).toEqual(new Set(['a', 'b']))
    expect(await one.waiting()).toEqual([])
  })

  it('keeps a repetition and its taking back apart', async () => {
    const kinds: string[] = []
    const outbox = new Outbox('me', (batch) => {
      kinds.push(...batch.map((e) => e.kind))
      return Promise.resolve()
    })
    await outbox.add(entry('a'))
    await outbox.add({ kind: 'taken back', id: 'a' })
    await outbox.flush()
    expect(kinds).toEqual(['played', 'taken back'])
  })

  it('does not set work aside because a session ran out', async () => {
    const outbox = new Outbox('me', () => Promise.reject(new ApiError(401, 'signed out')))
    await outbox.add(entry('a'))
    expect(await outbox.flush()).toBe('signed out')
    expect(await outbox.waiting()).toHaveLength(1)
  })

  it('gives a busy server the pause it asks for', async () => {
    let now = 1000
    let calls = 0
    const outbox = new Outbox(
      'me',
      () => {
        calls += 1
        return calls === 1 ? Promise.reject(new ApiError(503, 'busy', [], 3)) : Promise.resolve()
      },
      () => now,
    )
    await outbox.add(entry('a'))
    expect(await outbox.flush()).toBe('away')
    now += 2900
    expect(await outbox.flush()).toBe('away')
    expect(calls).toBe(1)
    now += 200
    expect(await outbox.flush()).toBe('all')
    expect([calls, await outbox.refused()]).toEqual([2, []])
  })

  it('lets go of what was refused once it was seen', async () => {
    const outbox = new Outbox('me', () => Promise.reject(new ApiError(404, 'not on your list')))
    await outbox.add(entry('a'))
    await outbox.flush()
    expect(await outbox.refused()).toHaveLength(1)
    await outbox.forgetRefused()
    expect(await outbox.refused()).toEqual([])
  })

  it('goes on from what an older version of the page left', async () => {
    // As the first version wrote them: no source, refusals without a reason.
    kept.set('me', [
      {
        kind: 'played',
        id: 'old',
        item_id: 'item',
        step: 0,
        tempo_bpm: 82,
        is_clean: true,
        played_at: '2026-01-01T00:00:00Z',
      },
    ])
    kept.set('me refused', [{ kind: 'taken back', id: 'gone' }])
    const sent: unknown[] = []
    const outbox = new Outbox('me', (batch) => Promise.resolve(sent.push(handedIn(batch))))
    expect(await outbox.flush()).toBe('all')
    expect(sent).toMatchObject([{ repetitions: [{ id: 'old', tempo_bpm: 82 }], taken_back: [], slips: [], lines: [] }])
    expect(await outbox.refused()).toMatchObject([{ entry: { id: 'gone' }, said: '' }])
  })

  it('keeps in memory what the device has no room for, says so, and sends it', async () => {
    isFull.now = true
    const sent: string[] = []
    let isOnline = false
    const outbox = new Outbox('me', (batch) => {
      if (!isOnline) return Promise.reject(new ApiError(0, 'no network'))
      sent.push(...batch.map((one) => one.id))
      return Promise.resolve()
    })
    await outbox.add(entry('a'))
    expect(outbox.isMemoryOnly).toBe(true)
    expect(await outbox.flush()).toBe('away')
    expect(await outbox.waiting()).toHaveLength(1)
    isOnline = true
    expect(await outbox.flush()).toBe('all')
    expect(sent).toEqual(['a'])
    expect(outbox.isMemoryOnly).toBe(false)
  })

  it('finds a tap that was noted in the moment in which its page was closed', async () => {
    const shelf = new Map<string, string>()
    vi.stubGlobal('window', { localStorage: shelfOf(shelf) })
    isFull.now = true // the browser's database never came to it
    await new Outbox('me', () => Promise.reject(new ApiError(0, ''))).add(entry('a'))
    isFull.now = false
    const sent: string[] = []
    const next = new Outbox('me', (batch) => Promise.resolve(sent.push(...batch.map((one) => one.id))))
    expect(next.isMemoryOnly).toBe(false)
    expect(await next.flush()).toBe('all')
    expect(sent).toEqual(['a'])
    expect(shelf.size).toBe(0)
    vi.unstubAllGlobals()
  })
})

function shelfOf(shelf: Map<string, string>): Storage {
  return {
    get length() {
      return shelf.size
    },
    clear: () => shelf.clear(),
    key: (place) => [...shelf.keys()][place] ?? null,
    getItem: (key) => shelf.get(key) ?? null,
    setItem: (key, value) => void shelf.set(key, value),
    removeItem: (key) => void shelf.delete(key),
  }
}
