import type { PieceOut } from '../../api/gen'
import { t } from '../../words/words'

/** What was read, what was not kept, and what looks wrong, in plain words. */
export function Report({ piece }: { piece: PieceOut }) {
  const wrong = piece.parts.flatMap((part) => part.findings.map((text) => ({ kind: 'wrong', part: part.name, text })))
  const lines = [...piece.report, ...wrong]
  return (
    <ul className="report">
      {lines.map((line, i) => (
        <li key={i} className={line.kind}>
          {line.part && <strong>{line.part}: </strong>}
          {line.text}
        </li>
      ))}
      {wrong.length === 0 && <li>{t('music.everyMeasureAddsUp')}</li>}
    </ul>
  )
}
