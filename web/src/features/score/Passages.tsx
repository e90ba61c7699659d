import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { ask } from '../../api/ask'
import { getPieceSlips, type PassageOut, type PassageSlipsOut, type ScoreOut, type SectionOnOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { csvOf, download } from '../../shared/hooks/csv'
import { clock } from '../../shared/pure/time'
import { t } from '../../words/words'

interface Props {
  score: ScoreOut
  chosen: number | null
  choose: (place: number) => void
}

/** Sections by passages: how many have it, how heavy it is there, and what holds the tempo down. */
export function Passages({ score, chosen, choose }: Props) {
  const slips = useQuery({
    queryKey: keys.score.slips(score.piece_id),
    queryFn: () => ask(getPieceSlips({ path: { piece_id: score.piece_id } })),
  })
  const heaviest = Math.max(...score.passages.flatMap((passage) => passage.sections.map((section) => section.load)), 0)
  return (
    <>
      <div className="table-scroll">
        <table className="plain passages">
          <caption className="visually-hidden">{t('score.howEachSectionStandsOnEach')}</caption>
          <thead>
            <tr>
              <th scope="col">{t('score.section')}</th>
              {score.passages.map((passage, place) => (
                <th scope="col" key={passage.first} className={chosen === place ? 'chosen' : ''}>
                  <button
                    type="button"
                    className="passage"
                    aria-pressed={chosen === place}
                    onClick={() => choose(place)}
                  >
                    {passage.name}
                  </button>
                  <small>{told(passage, score)}</small>
                  <Slips on={slips.data?.[place]} />
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {score.desks.map((desk, row) => (
              <tr key={`${desk.part_id} ${desk.section_id}`}>
                <th scope="row">
                  <Link to={`/wall?part=${desk.part_id}&section=${desk.section_id}`}>{desk.section}</Link>
                  <small>
                    {desk.students} {t('score.players', { count: desk.students })}
                  </small>
                </th>
                {score.passages.map((passage, place) => {
                  const here = passage.sections.find((section) => section.desk === row)
                  return (
                    <td key={passage.first} className={chosen === place ? 'chosen' : ''}>
                      {here ? (
                        <Cell
                          on={here}
                          of={desk.students}
                          heaviest={heaviest}
                          isNeck={score.bottleneck?.passage === place && score.bottleneck.desk === row}
                        />
                      ) : (
                        <span className="muted">{t('score.rests')}</span>
                      )}
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="muted">
        {t('score.aFilledCircleThePlayerHas')}{' '}
        <button type="button" className="as-link" onClick={() => download(`${score.title}.csv`, csvOf(rows(score)))}>
          {t('score.csv')}
        </button>
      </p>
    </>
  )
}

const NAMED = 2

/** How often it slipped there, and in which parts most; each leads to its notes. */
function Slips({ on }: { on: PassageSlipsOut | undefined }) {
  const total = on?.parts.reduce((sum, part) => sum + part.count, 0) ?? 0
  if (!on || total === 0) return null
  return (
    <small>
      {total} {t('score.slips', { count: total })}:{' '}
      {on.parts.slice(0, NAMED).map((part, i) => (
        <span key={part.part_id}>
          {i > 0 && ', '}
          <Link to={`/wall?by=slips&part=${part.part_id}&whole=yes`}>
            {part.part} {part.count}
          </Link>
        </span>
      ))}
    </small>
  )
}

function told(passage: PassageOut, score: ScoreOut): string {
  const similar = passage.kin.map((place) => score.passages[place]?.name.split(' ')[0] ?? '').filter(Boolean)
  const parts = [clock(passage.seconds), t('score.openForOf', { open: passage.open, of: passage.of })]
  if (similar.length > 0) parts.push(t('score.like', { passages: similar.join(', ') }))
  return parts.join(' · ')
}

interface CellProps {
  on: SectionOnOut
  of: number
  heaviest: number
  isNeck: boolean
}

function Cell({ on, of, heaviest, isNeck }: CellProps) {
  const has = of - on.open
  const nearly = Math.max(on.at_tempo - has, 0)
  return (
    <div className={isNeck ? 'section-on neck' : 'section-on'} title={on.standing}>
      <span
        className="has"
        role="img"
        aria-label={t('score.ofHaveIt', { has, of, nearly: nearly > 0 ? t('score.butForASeam', { nearly }) : '' })}
      >
        {Array.from({ length: of }, (_, i) => (
          <i key={i} className={i < has ? 'full' : i < has + nearly ? 'nearly' : ''} />
        ))}
      </span>
      <small>
        {on.standing || t('score.nobody')}
        {on.tempo_bpm !== null && on.open > 0 && t('score.hold', { tempoBpm: on.tempo_bpm })}
      </small>
      <span
        className="load"
        style={{ width: `${heaviest > 0 ? Math.round((on.load / heaviest) * 100) : 0}%` }}
        aria-hidden="true"
      />
    </div>
  )
}

function rows(score: ScoreOut): string[][] {
  return [
    [t('score.section'), ...score.passages.map((passage) => passage.name)],
    ...score.desks.map((desk, row) => [
      desk.section,
      ...score.passages.map((passage) => passage.sections.find((section) => section.desk === row)?.standing ?? 'rests'),
    ]),
  ]
}
