import { QueryClient } from '@tanstack/react-query'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { keep, restore } from './queryPersistence'

const kept = vi.hoisted(() => new Map<string, unknown>())
vi.mock('idb-keyval', () => ({
  get: (key: string) => Promise.resolve(structuredClone(kept.get(key))),
  set: (key: string, value: unknown) => Promise.resolve(void kept.set(key, structuredClone(value))),
  del: (key: string) => Promise.resolve(void kept.delete(key)),
}))

async function aVisit(role: string): Promise<void> {
  const client = new QueryClient()
  client.setQueryData(['me'], { role, name: 'Sage L.' })
  client.setQueryData(['today'], [{ chunk: '33–36' }])
  client.setQueryData(['wall', 'part'], { secret: true })
  await keep(client)
}

async function nextVisit(): Promise<QueryClient> {
  const client = new QueryClient()
  await restore(client)
  return client
}

describe('what is kept for a day without a network', () => {
  beforeEach(() => kept.clear())

  it('is the student and their day, and nothing else', async () => {
    await aVisit('student')
    const client = await nextVisit()
    expect(client.getQueryData(['me'])).toMatchObject({ name: 'Sage L.' })
    expect(client.getQueryData(['today'])).toEqual([{ chunk: '33–36' }])
    expect(client.getQueryData(['wall', 'part'])).toBeUndefined()
  })

  it('goes with the one who signs out', async () => {
    await aVisit('student')
    const client = await nextVisit()
    client.setQueryData(['me'], null)
    await keep(client)
    expect((await nextVisit()).getQueryData(['today'])).toBeUndefined()
  })

  it('is never that of a director', async () => {
    await aVisit('director')
    expect(kept.size).toBe(0)
  })

  it('is asked for anew where the page it was kept by knew another shape', async () => {
    await aVisit('student')
    const one = kept.get('crumb kept') as { shape: string }
    kept.set('crumb kept', { ...one, shape: 'older' })
    expect((await nextVisit()).getQueryData(['today'])).toBeUndefined()
  })

  it('is too old after two weeks', async () => {
    await aVisit('student')
    const one = kept.get('crumb kept') as { at: number }
    kept.set('crumb kept', { ...one, at: Date.now() - 15 * 24 * 3600 * 1000 })
    expect((await nextVisit()).getQueryData(['today'])).toBeUndefined()
  })
})
