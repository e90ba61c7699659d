import { useEffect } from 'react'

/** Keep the screen on while the music stands there, where the browser can. */
export function useAwake() {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null
    if ('wakeLock' in navigator) {
      navigator.wakeLock.request('screen').then(
        (got) => {
          lock = got
        },
        () => undefined,
      )
    }
    return () => void lock?.release()
  }, [])
}
