import { useEffect, useRef, type MouseEvent } from 'react'
import type { PositionOut, StandOut, StepOut } from '../../api/gen'
import { markNotes, noteNear } from '../../shared/pure/noteTap'
import { Score } from '../../shared/ui/Score'
import { showOnly, stretchesOf } from './stretches'
import { t } from '../../words/words'

interface Props {
  stand: StandOut
  step: StepOut
  /** The note that sounds. */
  noteId: string | null
  /** Notes that are marked: where it slipped. */
  marked: PositionOut[]
  /** How many stretches one has gone on from hold to hold, where only the next one is shown. */
  ahead: number | null
  /** A note was tapped. */
  onNote: (at: PositionOut) => void
}

/** The step, large: what sounds and what slipped marked on it; a tap says where. */
export function Music({ stand, step, noteId, marked, ahead, onNote }: Props) {
  const sheet = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const note = noteId === null ? null : sheet.current?.querySelector(`[id="${CSS.escape(noteId)}"]`)
    note?.classList.add('sounding')
    return () => note?.classList.remove('sounding')
  }, [noteId])
  useEffect(() => (sheet.current ? markNotes(sheet.current, marked, 'slipped') : undefined), [marked, step.svg])
  useEffect(() => {
    if (ahead === null || !sheet.current) return
    const stretches = stretchesOf(sheet.current)
    return showOnly(sheet.current, stretches[ahead % stretches.length] ?? [])
  }, [ahead, step.svg])
  function tap(event: MouseEvent) {
    const at = sheet.current && noteNear(sheet.current, event.clientX, event.clientY)
    if (at) onNote(at)
  }
  return (
    <section
      className={ahead === null ? 'stand-music' : 'stand-music only-ahead'}
      aria-label={t('stand.music')}
      tabIndex={0}
      onClick={tap}
    >
      {step.svg === null ? (
        <p className="on-paper">
          <span>{t('stand.fromYourOwnPart')}</span>
          <span>{/[–.]/.test(step.place) ? t('stand.measures') : t('stand.measure')}</span>
          <strong>{step.place}</strong>
          <span>{stand.item.part}</span>
        </p>
      ) : (
        <Score ref={sheet} svg={step.svg} label={t('stand.engraved', { chunk: stand.item.chunk, name: step.name })} />
      )}
    </section>
  )
}
