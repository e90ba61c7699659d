import type { PracticeSession } from '../../practice/session'

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
      aria-label={isHelper ? 'Your helper counts' : 'Count a repetition'}
    >
      <button type="button" className="slip" onClick={() => session.play(false)}>
        Slip <kbd>←</kbd>
      </button>
      <button type="button" className="undo" onClick={() => session.undo()} disabled={!canUndo}>
        Undo <kbd>U</kbd>
      </button>
      <button type="button" className="clean" onClick={() => session.play(true)}>
        Clean <kbd>→</kbd>
      </button>
    </section>
  )
}
