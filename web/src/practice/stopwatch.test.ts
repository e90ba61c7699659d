import { describe, expect, it } from 'vitest'
import { Stopwatch } from './stopwatch'

function aWatch() {
  const time = { now: 0 }
  return { time, watch: new Stopwatch(() => time.now) }
}

describe('time that is practised', () => {
  it('runs from the first sign on', () => {
    const { time, watch } = aWatch()
    time.now = 60_000
    watch.sign()
    time.now = 75_000
    expect(watch.seconds).toBe(15)
  })

  it('does not count a phone that was left lying', () => {
    const { time, watch } = aWatch()
    watch.sign()
    time.now = 3_600_000
    expect(watch.seconds).toBe(90)
    watch.sign()
    time.now += 10_000
    expect(watch.seconds).toBe(100)
  })

  it('reports each second once, and nothing too short to be practice', () => {
    const { time, watch } = aWatch()
    watch.sign()
    time.now = 10_400
    expect(watch.report()).toBe(10)
    time.now = 14_000
    expect(watch.report()).toBe(0)
    time.now = 15_700
    expect(watch.report()).toBe(5)
    expect(watch.seconds).toBe(15.7)
  })

  it('stands still after it was stopped', () => {
    const { time, watch } = aWatch()
    watch.sign()
    time.now = 20_000
    watch.stop()
    time.now = 50_000
    expect(watch.seconds).toBe(20)
  })
})
