import { describe, expect, it, vi } from 'vitest'
import { followPedal, pedalOf } from './pedal'

describe('a pedal that speaks MIDI', () => {
  it('is clean on the right and a slip on the others, when it goes down', () => {
    expect(pedalOf([0xb0, 64, 127])).toBe('clean')
    expect(pedalOf([0xb3, 67, 100])).toBe('slip')
    expect(pedalOf([0xb0, 64, 0])).toBeNull()
    expect(pedalOf([0x90, 64, 127])).toBeNull()
    expect(pedalOf([])).toBeNull()
  })

  it('is followed, also if it is plugged in later, until nobody wants it', async () => {
    const input = new EventTarget()
    const access = Object.assign(new EventTarget(), { inputs: new Map<string, EventTarget>() })
    vi.stubGlobal('navigator', { requestMIDIAccess: () => Promise.resolve(access) })
    const told: string[] = []
    const end = await followPedal({ clean: () => told.push('clean'), slip: () => told.push('slip') })
    access.inputs.set('pedal', input)
    access.dispatchEvent(new Event('statechange'))
    const press = (data: number[]) => input.dispatchEvent(Object.assign(new Event('midimessage'), { data }))
    press([0xb0, 64, 127])
    press([0xb0, 66, 127])
    end()
    press([0xb0, 64, 127])
    expect(told).toEqual(['clean', 'slip'])
    vi.unstubAllGlobals()
  })
})
