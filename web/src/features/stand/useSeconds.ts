import { useEffect, useMemo, useState } from 'react'
import type { Me } from '../../api/gen'
import { Stopwatch } from '../../practice/stopwatch'
import { practised } from '../../practice/practiceDay'
import type { SyncQueue } from '../../practice/syncQueue'
import { write, type Said } from '../../shared/hooks/diary'
import { keepPracticeDay, readPracticeDay } from '../../shared/hooks/practiceDayStore'

type Category = Extract<Said, { kind: 'minutes' }>['category']

/**
 * Seconds of practice here: they run while the click runs, and on once something was counted. What was
 * spent goes into the diary under its category, also when the page is left.
 */
export function useSeconds(
  me: Me,
  queue: SyncQueue,
  category: Category,
  itemId: string | null,
  isActive: boolean,
  sign: unknown,
): number {
  const watch = useMemo(() => new Stopwatch(), [])
  const [seconds, setSeconds] = useState(0)
  useEffect(() => {
    if (isActive) watch.sign()
  }, [watch, isActive, sign])
  useEffect(() => {
    if (!isActive) return
    const timer = window.setInterval(() => setSeconds(watch.seconds), 1000)
    return () => window.clearInterval(timer)
  }, [watch, isActive])
  useEffect(() => {
    const report = () => {
      const spent = watch.report()
      if (spent === 0) return
      write(queue, { kind: 'minutes', category, seconds: spent }, itemId)
      keepPracticeDay(me.name, practised(readPracticeDay(me.name), spent, Date.now()))
    }
    const hide = () => document.visibilityState === 'hidden' && report()
    document.addEventListener('visibilitychange', hide)
    return () => {
      document.removeEventListener('visibilitychange', hide)
      watch.stop()
      report()
    }
  }, [watch, queue, category, itemId, me.name])
  return seconds
}
