import { beforeEach, expect, test, vi } from 'vitest'
import { ApiError } from '../api/ask'
import { TakeBox, type KeptTake } from './takeBox'

const kept = new Map<string, unknown>()
vi.mock('idb-keyval', () => ({
  get: (key: string) => Promise.resolve(kept.get(key)),
  update: (key: string, change: (old: unknown) => unknown) =>
    Promise.resolve(void kept.set(key, change(kept.get(key)))),
}))
beforeEach(() => kept.clear())

const take = (id: string, isHandedIn = true): KeptTake => ({
  id,
  partId: 'p',
  chunkId: 'c',
  chunk: '9–10',
  data: new ArrayBuffer(3),
  type: 'audio/webm',
  seconds: 4,
  recordedAt: '2026-11-26T10:00:00Z',
  isHandedIn,
  whyAnew: '',
  refused: '',
})

test('only what is handed in goes, the oldest first, and leaves the device when it is there', async () => {
  const sent: string[] = []
  const box = new TakeBox('me', (one) => Promise.resolve(sent.push(one.id)))
  for (const one of [take('a'), take('b', false), take('c')]) await box.keep(one)
  await box.flush()
  expect(sent).toEqual(['a', 'c'])
  expect((await box.list()).map((one) => one.id)).toEqual(['b'])
})

test('without a network it waits and goes the next time', async () => {
  let isAway = true
  const box = new TakeBox('me', () => (isAway ? Promise.reject(new ApiError(0, 'away')) : Promise.resolve()))
  await box.keep(take('a'))
  await box.flush()
  expect((await box.list()).map((one) => [one.id, one.isHandedIn])).toEqual([['a', true]])
  isAway = false
  await box.flush()
  expect(await box.list()).toEqual([])
})

test('what the server will not have stays here with the reason, and blocks nothing', async () => {
  const box = new TakeBox('me', (one) =>
    one.id === 'a' ? Promise.reject(new ApiError(403, 'Your school does not have takes.')) : Promise.resolve(),
  )
  for (const one of [take('a'), take('b')]) await box.keep(one)
  await box.flush()
  expect((await box.list()).map((one) => [one.id, one.isHandedIn, one.refused])).toEqual([
    ['a', false, 'Your school does not have takes.'],
  ])
})
