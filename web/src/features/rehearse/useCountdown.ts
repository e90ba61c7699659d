import { useEffect, useState } from 'react'

/** Seconds left of a line; below zero once it is over. It begins anew with each line. */
export function useCountdown(seconds: number, line: number): number {
  const [state, setState] = useState({ line, began: 0, now: 0 })
  useEffect(() => {
    const began = Date.now()
    const tick = () => setState({ line, began, now: Date.now() })
    const timer = window.setInterval(tick, 1000)
    return () => window.clearInterval(timer)
  }, [line])
  return state.line === line ? seconds - Math.floor((state.now - state.began) / 1000) : seconds
}
