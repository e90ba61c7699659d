import { useEffect, useMemo, useState } from 'react'
import { Metronome, type Beat, type ClickPlan } from '../../sound/metronome'

/** A metronome that follows its plan while it runs; `count` tells one beat from the next. */
export function useMetronome(plan: ClickPlan) {
  const [isRunning, setRunning] = useState(false)
  const [told, setTold] = useState<{ beat: Beat; count: number } | null>(null)
  const metronome = useMemo(
    () => new Metronome((beat) => setTold((before) => ({ beat, count: (before?.count ?? 0) + 1 }))),
    [],
  )
  useEffect(() => () => metronome.stop(), [metronome])
  useEffect(() => {
    if (isRunning) metronome.change(plan)
  }, [metronome, isRunning, plan])
  function stop() {
    metronome.stop()
    setRunning(false)
    setTold(null)
  }
  function toggle() {
    if (isRunning) {
      stop()
    } else {
      setRunning(true)
      void metronome.start(plan)
    }
  }
  return {
    isRunning,
    beat: told?.beat ?? null,
    count: told?.count ?? 0,
    toggle,
    stop,
    offBy: (at: number) => metronome.offBy(at),
  }
}

export type Ticking = ReturnType<typeof useMetronome>
