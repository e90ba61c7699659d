import { useEffect, useState } from 'react'

/** Seconds of practice here: they run while the click runs, and on once something was counted. */
export function useSeconds(isActive: boolean): number {
  const [seconds, setSeconds] = useState(0)
  useEffect(() => {
    if (!isActive) return
    let last = performance.now()
    const timer = window.setInterval(() => {
      const now = performance.now()
      const passed = (now - last) / 1000
      last = now
      setSeconds((before) => before + passed)
    }, 1000)
    return () => window.clearInterval(timer)
  }, [isActive])
  return seconds
}
