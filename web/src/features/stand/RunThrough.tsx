import { Button } from 'antd'
import { useState } from 'react'
import type { PositionOut } from '../../api/gen'
import type { PracticeSession } from '../../practice/session'

interface Run {
  slips: PositionOut[]
  /** Slips whose note was not tapped. */
  untold: number
}

const NO_RUN: Run = { slips: [], untold: 0 }

/** One run: whatever happens one goes on; slips are noted and mended another time. */
export function useRun(session: PracticeSession) {
  const [run, setRun] = useState<Run | null>(null)
  const [last, setLast] = useState<Run | null>(null)
  return {
    run,
    last,
    begin: () => {
      setRun(NO_RUN)
      setLast(null)
    },
    mark: (at: PositionOut) => setRun((before) => before && { ...before, slips: [...before.slips, at] }),
    slip: () => setRun((before) => before && { ...before, untold: before.untold + 1 }),
    end: () => {
      if (!run) return
      session.playThrough(run.slips, run.untold)
      setLast(run)
      setRun(null)
    },
  }
}

export type Running = ReturnType<typeof useRun>

export function RunThrough({ running }: { running: Running }) {
  const { run, last } = running
  const count = (of: Run) => of.slips.length + of.untold
  return (
    <>
      <p className="told" role="status">
        {run && (count(run) === 0 ? 'Go on, whatever happens.' : `${count(run)} noted. Go on.`)}
        {!run &&
          last &&
          (count(last) === 0 ? 'Through, clean.' : `Through, with ${count(last)}. They are where the next minutes go.`)}
        {!run && !last && 'Once through without stopping. Tap a note where it slips; mend nothing now.'}
      </p>
      <section className="pad" aria-label="Run through">
        {run ? (
          <>
            <button type="button" className="slip" onClick={running.slip}>
              Slip <kbd>←</kbd>
            </button>
            <span />
            <button type="button" className="clean" onClick={running.end}>
              Through <kbd>→</kbd>
            </button>
          </>
        ) : (
          <Button type="primary" size="large" className="whole-pad" onClick={running.begin}>
            Begin the run
          </Button>
        )}
      </section>
    </>
  )
}
