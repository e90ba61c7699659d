import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { secondsOf } from './secondsOf'

const file = new File(['sound'], 'take.wav', { type: 'audio/wav' })
let audio: Partial<HTMLAudioElement> & { onloadedmetadata?: () => void; onerror?: () => void }
const revoked = vi.fn()

beforeEach(() => {
  vi.useFakeTimers()
  audio = {}
  vi.stubGlobal('document', { createElement: () => audio })
  vi.stubGlobal('URL', { createObjectURL: () => 'blob:take', revokeObjectURL: revoked })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

test('a recording whose length is never told is not waited for without an end', async () => {
  const seconds = secondsOf(file)
  await vi.advanceTimersByTimeAsync(5000)
  expect(await seconds).toBe(0)
  expect(revoked).toHaveBeenCalledWith('blob:take')
})

test.each([
  [12.5, 12.5],
  [Infinity, 0],
])('of a recording that the browser says lasts %s seconds it is %s', async (told, length) => {
  const seconds = secondsOf(file)
  audio = Object.assign(audio, { duration: told })
  audio.onloadedmetadata?.()
  expect(await seconds).toBe(length)
})

test('what the browser cannot read is of no known length', async () => {
  const seconds = secondsOf(file)
  audio.onerror?.()
  expect(await seconds).toBe(0)
})
