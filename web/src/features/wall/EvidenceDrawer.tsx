import { useQuery } from '@tanstack/react-query'
import { Drawer } from 'antd'
import { ask } from '../../api/ask'
import { getEvidence, type EvidenceOut, type EvidenceRow, type JoinsOut, type SecureOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { bpm, day, moment } from '../../shared/pure/time'
import { LevelMark } from '../../shared/ui/LevelMark'
import { Failed, Loading } from '../../shared/ui/states'
import { Heard } from './Heard'
import { TempoPicture } from './TempoPicture'
import { t } from '../../words/words'

export interface CellChoice {
  partId: string
  studentId: string
  chunkId: string
}

const KINDS: Record<string, string> = { learn: 'learn', set: 'set', prove: 'prove' }

const SOURCES: Record<string, string> = {
  self: t('wall.ownCount'),
  helper: t('wall.aHelpersTick'),
  paper: 'paper',
  hearing: 'hearing',
  measured: 'measured',
  rehearsed: t('wall.inRehearsal'),
}

function counted(row: EvidenceRow): string {
  if (row.is_retracted) return t('wall.takenBack')
  if (row.what === 'hearing') return t('wall.level', { level: row.level ?? 0, judge: row.by ? `, ${row.by}` : '' })
  return row.is_clean ? 'clean' : 'slip'
}

export function EvidenceDrawer({ choice, close }: { choice: CellChoice | null; close: () => void }) {
  const evidence = useQuery({
    queryKey: keys.evidence.cell(choice),
    queryFn: () =>
      ask(
        getEvidence({
          path: {
            part_id: choice?.partId ?? '',
            student_id: choice?.studentId ?? '',
            chunk_id: choice?.chunkId ?? '',
          },
        }),
      ),
    enabled: choice !== null,
  })
  const title = evidence.data
    ? t('wall.onOfStudentChunk', { student: evidence.data.student, chunk: evidence.data.chunk })
    : t('wall.evidence')
  return (
    <Drawer open={choice !== null} onClose={close} title={title} size={560}>
      {evidence.isPending && <Loading what={t('wall.loadingTheEvidence')} />}
      {evidence.isError && <Failed error={evidence.error} retry={() => void evidence.refetch()} />}
      {evidence.data && choice && <Evidence evidence={evidence.data} choice={choice} />}
    </Drawer>
  )
}

/** Secure tempo as a band on a line up to the goal; solid and best single beside it. */
function Tempos({ secure }: { secure: SecureOut }) {
  const most = Math.max(secure.goal, secure.high) * 1.05
  const at = (tempo: number) => `${Math.min(100, (tempo / most) * 100)}%`
  const whole = (tempo: number | null) => (tempo === null ? '–' : String(Math.round(tempo)))
  return (
    <div className="tempos">
      <p>
        {t('wall.secureAt')} <strong>{whole(secure.median)}</strong>
        {t('wall.n80LikelyBetweenAnd', { low: whole(secure.low), high: whole(secure.high) })}
        {!secure.enough && <span className="muted">{t('wall.notEnoughYetToBeSure')}</span>}
        {t('wall.solidBestSinglePassGoal', {
          solid: whole(secure.solid),
          best: whole(secure.best),
          goal: whole(secure.goal),
        })}
      </p>
      <div
        className="tempo-line"
        role="img"
        aria-label={t('wall.secureBetweenAndGoal', {
          low: whole(secure.low),
          high: whole(secure.high),
          goal: whole(secure.goal),
        })}
      >
        <span
          className="tempo-band"
          style={{ left: at(secure.low), width: `calc(${at(secure.high)} - ${at(secure.low)})` }}
        />
        <span className="tempo-mark" style={{ left: at(secure.median) }} />
        {secure.solid !== null && <span className="tempo-solid" style={{ left: at(secure.solid) }} />}
        <span className="tempo-goal" style={{ left: at(secure.goal) }} />
      </div>
    </div>
  )
}

/** How far a seam is: shown, or so many crossings in a row. */
function joined(name: string, count: number | null, joins: JoinsOut): string {
  if (count === null) return ''
  if (count >= joins.of) return t('wall.theSeamItIsSecure', { name })
  return t('wall.theSeamItPlayedAcrossOf', { name, amount: count, of: joins.of, tempo: bpm(joins.tempo) })
}

/** Two ways to grow: all of it faster, and more of it at goal. */
function Axes({ evidence }: { evidence: EvidenceOut }) {
  const { secure, longest } = evidence
  if (!secure) return null
  const fastest =
    secure.solid === null ? t('wall.notShownYet') : t('wall.of', { tempo: bpm(secure.solid), goal: bpm(secure.goal) })
  return (
    <dl className="axes">
      <div>
        <dt>{t('wall.allOfItAtMost')}</dt>
        <dd>{fastest}</dd>
      </div>
      <div>
        <dt>{t('wall.atAtMost', { goal: bpm(secure.goal) })}</dt>
        <dd>{longest ?? t('wall.nothingYet')}</dd>
      </div>
    </dl>
  )
}

function Evidence({ evidence, choice }: { evidence: EvidenceOut; choice: CellChoice }) {
  return (
    <>
      <p className="evidence-why">
        <LevelMark level={evidence.cell.level} size={26} /> {evidence.cell.why}
      </p>
      <p>
        <strong>{t('wall.toRaiseTheLevel')}</strong> {evidence.cell.next}
        {evidence.cell.due_on && <> {t('wall.dueForAColdTryFrom', { dueOn: day(evidence.cell.due_on) })}</>}
      </p>
      <p className="muted">
        {joined('into', evidence.joins.into, evidence.joins)}{' '}
        {joined(t('wall.outOf'), evidence.joins.out, evidence.joins)}
      </p>
      <Axes evidence={evidence} />
      {evidence.secure && <Tempos secure={evidence.secure} />}
      <TempoPicture evidence={evidence} />
      <Heard heard={evidence.heard} choice={choice} />
      {evidence.slips.length > 0 && (
        <>
          <h3>{t('wall.drillTheSlipsInSmallerPieces')}</h3>
          <ul className="slip-places">
            {evidence.slips.map((one) => (
              <li key={one.place}>
                <span>{one.place.replace('→', '')}</span>{' '}
                <meter
                  min={0}
                  max={evidence.slips[0]?.count ?? 1}
                  value={one.count}
                  aria-label={t('wall.slips', { amount: one.count })}
                />{' '}
                {one.count}
              </li>
            ))}
          </ul>
        </>
      )}
      {evidence.ways.map((verdict) => (
        <p key={verdict}>
          <strong>{t('wall.twoWaysCompared')}</strong> {verdict}
        </p>
      ))}
      <p className="muted">{t('wall.newestFirst')}</p>
      {evidence.repetitions.length === 0 && <p>{t('wall.nobodyHasPlayedThisChunkYet')}</p>}
      {evidence.repetitions.length > 0 && (
        <table className="plain evidence">
          <thead>
            <tr>
              <th>{t('wall.when')}</th>
              <th>{t('wall.step')}</th>
              <th>{t('wall.for')}</th>
              <th>{t('wall.tempo')}</th>
              <th>{t('wall.countedAs')}</th>
            </tr>
          </thead>
          <tbody>
            {evidence.repetitions.map((r, i) => (
              <tr key={i} className={r.is_retracted ? 'retracted' : ''}>
                <td>{moment(r.played_at)}</td>
                <td>
                  {r.what === 'hearing' ? t('wall.heard') : r.step_name || t('wall.onTheirOwn')}{' '}
                  <span className="muted">{r.span}</span>
                </td>
                <td>{r.what === 'hearing' ? '' : (KINDS[r.kind] ?? r.kind)}</td>
                <td>{r.tempo_bpm === null ? t('wall.noClick') : bpm(r.tempo_bpm)}</td>
                <td>
                  {counted(r)} <small className="muted">{SOURCES[r.source] ?? r.source}</small>
                  {r.doubt && <small className="doubt">{t('wall.notCounted', { doubt: r.doubt })}</small>}
                  {r.reason && <small className="muted"> “{r.reason}”</small>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {evidence.older > 0 && <p className="muted">{t('wall.olderEntriesCountTooAndAre', { older: evidence.older })}</p>}
    </>
  )
}
