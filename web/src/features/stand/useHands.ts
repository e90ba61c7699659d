import { useEffect, useRef, useState } from 'react'
import type { StandSettings } from '../../practice/settings'
import { listenForLandings } from '../../sound/landing'
import { followPedal } from '../../practice/pedal'
import { t } from '../../words/words'

interface Taps {
  clean: () => void
  slip: () => void
}

/** Hands full: a pedal, or the silence after the last note, in the place of a tap. */
export function useHands(settings: StandSettings, taps: Taps, isResting: boolean): string {
  const [trouble, setTrouble] = useState('')
  const current = useRef({ ...taps, isResting })
  useEffect(() => {
    current.current = { ...taps, isResting }
  })
  useEffect(() => {
    if (!settings.isHandsFree) return
    return begin(
      () => listenForLandings(() => !current.current.isResting && current.current.clean()),
      t('stand.theMicrophoneIsBlockedAllowIt'),
      setTrouble,
    )
  }, [settings.isHandsFree])
  useEffect(() => {
    if (!settings.hasPedal) return
    return begin(
      () => followPedal({ clean: () => current.current.clean(), slip: () => current.current.slip() }),
      t('stand.thisBrowserDoesNotSupportMidi'),
      setTrouble,
    )
  }, [settings.hasPedal])
  return trouble
}

/** Begin something that takes a moment and may be refused; the returned function ends it, whenever it came. */
function begin(start: () => Promise<() => void>, refused: string, tell: (trouble: string) => void): () => void {
  let isOver = false
  let end: (() => void) | null = null
  tell('')
  start().then(
    (stop) => {
      if (isOver) stop()
      else end = stop
    },
    () => {
      if (!isOver) tell(refused)
    },
  )
  return () => {
    isOver = true
    end?.()
  }
}
