import { Button } from 'antd'
import { useState } from 'react'
import type { PositionOut } from '../../api/gen'
import type { PracticeSession } from '../../practice/session'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

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
        {run && (count(run) === 0 ? t('stand.goOnWhateverHappens') : t('stand.notedGoOn', { run: count(run) }))}
        {!run &&
          last &&
          (count(last) === 0 ? t('stand.throughClean') : t('stand.throughWithWorkOnThemNext', { last: count(last) }))}
        {!run && !last && t('stand.playItOnceThroughWithoutStopping')}
      </p>
      <section className="pad" aria-label={t('stand.runThrough')}>
        {run ? (
          <>
            <button type="button" className="slip" onClick={running.slip}>
              <Say it="stand.slipWithKey" components={[<kbd />]} />
            </button>
            <span />
            <button type="button" className="clean" onClick={running.end}>
              <Say it="stand.through" components={[<kbd />]} />
            </button>
          </>
        ) : (
          <Button type="primary" size="large" className="whole-pad" onClick={running.begin}>
            {t('stand.beginTheRun')}
          </Button>
        )}
      </section>
    </>
  )
}
