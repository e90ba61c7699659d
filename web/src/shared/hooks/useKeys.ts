import { useEffect, useRef } from 'react'

export type Keys = Record<string, () => void>

/** Call a handler for a key (as in KeyboardEvent.key) unless someone is typing or a dialog is open. */
export function useKeys(keys: Keys): void {
  const current = useRef(keys)
  useEffect(() => {
    current.current = keys
  })
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      if (event.ctrlKey || event.metaKey || event.altKey) return
      const target = event.target as HTMLElement
      if (target.closest('input, textarea, select, dialog, [role="dialog"], [role="listbox"], [role="combobox"]'))
        return
      const handler = current.current[event.key] ?? current.current[event.key.toLowerCase()]
      if (!handler) return
      // Space and Enter on a focused button are that button's own.
      if ((event.key === ' ' || event.key === 'Enter') && target.closest('button, a, [role="switch"]')) return
      event.preventDefault()
      handler()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
}
