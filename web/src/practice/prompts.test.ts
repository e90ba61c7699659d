import { describe, expect, it } from 'vitest'
import { promptNow, promptsFor } from './prompts'
import { keepSettings, readSettings, USUAL } from './settings'

describe('reminders while one practises', () => {
  it('fit the instrument in hand', () => {
    const names = (family: string) => promptsFor(family).map((one) => one.key)
    expect(names('trombone')).toContain('slide')
    expect(names('violin')).not.toContain('slide')
    expect(names('violin')).toContain('grip')
    expect(names('flute')).not.toContain('rest')
  })

  it('come after so many repetitions, and only where they were asked for', () => {
    expect(promptNow(['phrased'], 'flute', 5, false)?.key).toBe('phrased')
    expect(promptNow(['phrased'], 'flute', 6, false)).toBeNull()
    expect(promptNow([], 'flute', 10, false)).toBeNull()
    expect(promptNow(['phrased', 'posture'], 'flute', 10, false)?.key).toBe('posture')
  })

  it('speak of rest while one rests', () => {
    expect(promptNow(['slide'], 'trombone', 4, true)?.key).toBe('slide')
    expect(promptNow(['slide'], 'trombone', 4, false)).toBeNull()
    expect(promptNow(['slide'], 'trombone', 0, true)).toBeNull()
  })
})

describe('how somebody likes their stand', () => {
  it('is kept, but for the microphone, which is asked for each time', () => {
    const shelf = new Map<string, string>()
    const storage = {
      getItem: (key: string) => shelf.get(key) ?? null,
      setItem: (key: string, value: string) => void shelf.set(key, value),
    }
    keepSettings({ ...USUAL, click: 'off-beat', volume: 0.2, isHandsFree: true }, storage)
    expect(readSettings(storage)).toMatchObject({ click: 'off-beat', volume: 0.2, isHandsFree: false })
  })

  it('is the usual where what was kept cannot be read', () => {
    expect(readSettings({ getItem: () => '{half' })).toEqual(USUAL)
  })
})
