import type { PracticeSession } from '../../practice/session'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

interface Props {
  session: PracticeSession
  canUndo: boolean
  isHelper: boolean
}

/** Count a repetition: in reach of a thumb. */
export function Pad({ session, canUndo, isHelper }: Props) {
  return (
    <section
      className={isHelper ? 'pad by-helper' : 'pad'}
      aria-label={isHelper ? t('stand.yourHelperCounts') : t('stand.countARepetition')}
    >
      <button type="button" className="slip" onClick={() => session.play(false)}>
        <Say it="stand.slipWithKey" components={[<kbd />]} />
      </button>
      <button type="button" className="undo" onClick={() => session.undo()} disabled={!canUndo}>
        <Say it="stand.undoU" components={[<kbd />]} />
      </button>
      <button type="button" className="clean" onClick={() => session.play(true)}>
        <Say it="stand.cleanWithKey" components={[<kbd />]} />
      </button>
    </section>
  )
}
