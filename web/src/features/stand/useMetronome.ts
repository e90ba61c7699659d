import { useEffect, useMemo, useState } from 'react'
import { Metronome, type ClickPlan } from '../../sound/metronome'

/** A metronome that follows its plan while it runs. */
export function useMetronome(plan: ClickPlan) {
  const [isRunning, setRunning] = useState(false)
  const [beat, setBeat] = useState<number | null>(null)
  const metronome = useMemo(() => new Metronome(setBeat), [])
  useEffect(() => () => metronome.stop(), [metronome])
  useEffect(() => {
    if (isRunning) metronome.change(plan)
  }, [metronome, isRunning, plan])
  function toggle() {
    if (isRunning) {
      metronome.stop()
      setRunning(false)
      setBeat(null)
    } else {
      setRunning(true)
      void metronome.start(plan)
    }
  }
  return { isRunning, beat, toggle }
}
