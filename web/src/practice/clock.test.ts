import { describe, expect, it } from 'vitest'
import { SchoolClock } from './clock'

function aDevice(wall = 1_000_000) {
  const device = { wall, steady: 0 }
  const kept = new Map<string, string>()
  const storage = {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
  }
  const begin = () =>
    new SchoolClock(
      () => device.wall,
      () => device.steady,
      storage,
    )
  const pass = (ms: number) => {
    device.wall += ms
    device.steady += ms
  }
  return { device, begin, pass }
}

describe('the clock of the school', () => {
  it('goes on where somebody sets the device back a day', () => {
    const { device, begin, pass } = aDevice()
    const clock = begin()
    pass(4_000)
    device.wall -= 86_400_000
    pass(4_000)
    expect(clock.now()).toBe(1_008_000)
  })

  it('counts the time that a device slept', () => {
    const { device, begin } = aDevice()
    const clock = begin()
    device.wall += 60_000
    expect(clock.now()).toBe(1_060_000)
  })

  it('follows the server where the device is wrong, also after a restart', () => {
    const { device, begin, pass } = aDevice(0)
    const clock = begin()
    clock.hear(new Date(7_200_000).toUTCString())
    expect(clock.now()).toBe(7_200_000)
    pass(1_000)
    expect(clock.now()).toBe(7_201_000)
    device.steady = 0
    expect(begin().now()).toBe(7_201_000)
  })

  it('takes the way there and back for no wrong clock, and nonsense for nothing', () => {
    const { begin } = aDevice()
    const clock = begin()
    clock.hear(new Date(1_090_000).toUTCString())
    clock.hear('yesterday')
    clock.hear(null)
    expect(clock.now()).toBe(1_000_000)
  })
})
