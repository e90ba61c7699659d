import { useEffect, useMemo, useState } from 'react'
import { Player, type PlayPlan } from './player'

/** A player that follows its plan while it runs; says which note sounds. */
export function usePlayer(plan: PlayPlan | null) {
  const [isRunning, setRunning] = useState(false)
  const [noteId, setNoteId] = useState<string | null>(null)
  const player = useMemo(() => new Player(setNoteId, () => setRunning(false)), [])
  useEffect(() => () => player.stop(), [player])
  useEffect(() => {
    if (isRunning && plan) player.change(plan)
  }, [player, isRunning, plan])
  function stop() {
    player.stop()
    setRunning(false)
  }
  function start(what: PlayPlan) {
    setRunning(true)
    void player.start(what)
  }
  return { isRunning, noteId, start, stop }
}
