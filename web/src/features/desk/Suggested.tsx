import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { ask } from '../../api/ask'
import { previewRehearsal, type DateAheadOut, type PieceOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { lastRehearsed } from '../../shared/hooks/lastRehearsed'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

const MINUTES = 20

/** The rehearsal that would help most: of the piece with several parts that was rehearsed last, or is newest. */
export function Suggested({ dates, pieces }: { dates: DateAheadOut[]; pieces: PieceOut[] }) {
  const pieceId = pieceToRehearse(pieces, dates)
  const plan = useQuery({
    queryKey: keys.rehearsalDraft.suggested(pieceId),
    queryFn: () => ask(previewRehearsal({ body: { piece_id: pieceId, minutes: MINUTES } })),
    enabled: pieceId !== '',
  })
  if (pieceId === '' || !plan.data) return null
  const work = plan.data.items.filter((item) => item.kind === 'work')
  if (work.length === 0) return null
  return (
    <section aria-label={t('desk.suggestedRehearsal')}>
      <h2>{t('desk.rehearseNext')}</h2>
      <p className="muted">{t('desk.n20Minutes', { title: plan.data.title })}</p>
      <ol className="suggested">
        {work.slice(0, 3).map((item) => (
          <li key={item.name}>
            <Say
              it="desk.min"
              values={{ name: item.name, minutes: item.minutes, why: item.why }}
              components={[<strong />, <small className="muted" />]}
            />
          </li>
        ))}
      </ol>
      <Link to={`/rehearse?piece=${pieceId}&minutes=${MINUTES}`}>{t('desk.planIt')}</Link>
    </section>
  )
}

function pieceToRehearse(pieces: PieceOut[], dates: DateAheadOut[]): string {
  const playable = pieces.filter((piece) =>
    piece.parts.some((part) => !part.is_set_aside && part.section_ids.length > 0),
  )
  const scores = playable.filter((piece) => piece.parts.length > 1)
  const dated = scores.find((piece) => dates.some((date) => date.piece_id === piece.id))
  const before = scores.find((piece) => piece.id === lastRehearsed())
  return (dated ?? before ?? scores[0] ?? playable[0])?.id ?? ''
}
