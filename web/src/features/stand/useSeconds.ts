import { useEffect, useMemo, useState } from 'react'
import type { Me } from '../../api/gen'
import { Stopwatch } from '../../practice/stopwatch'
import { practised } from '../../practice/sitting'
import type { Post } from '../../practice/post'
import { write, type Said } from '../../shared/lib/diary'
import { keepSitting, readSitting } from '../../shared/lib/sitting'

type Category = Extract<Said, { kind: 'minutes' }>['category']

/**
 * Seconds of practice here: they run while the click runs, and on once something was counted. What was
 * spent goes into the diary under its category, also when the page is left.
 */
export function useSeconds(
  me: Me,
  post: Post,
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
      write(post, { kind: 'minutes', category, seconds: spent }, itemId)
      keepSitting(me.name, practised(readSitting(me.name), spent, Date.now()))
    }
    const hide = () => document.visibilityState === 'hidden' && report()
    document.addEventListener('visibilitychange', hide)
    return () => {
      document.removeEventListener('visibilitychange', hide)
      watch.stop()
      report()
    }
  }, [watch, post, category, itemId, me.name])
  return seconds
}
