import { useQuery } from '@tanstack/react-query'
import { Drawer } from 'antd'
import { ask } from '../../api/ask'
import { getEvidence, type EvidenceOut, type EvidenceRow, type JoinsOut, type SecureOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { bpm, day, moment } from '../../shared/lib/time'
import { LevelMark } from '../../shared/ui/LevelMark'
import { Failed, Loading } from '../../shared/ui/states'
import { Heard } from './Heard'
import { TempoPicture } from './TempoPicture'

export interface CellChoice {
  partId: string
  studentId: string
  chunkId: string
}

const KINDS: Record<string, string> = { learn: 'learn', set: 'set', prove: 'prove' }

const SOURCES: Record<string, string> = {
  self: 'own count',
  helper: 'a helper’s tick',
  paper: 'paper',
  hearing: 'hearing',
  measured: 'measured',
  rehearsed: 'in rehearsal',
}

function counted(row: EvidenceRow): string {
  if (row.is_retracted) return 'taken back'
  if (row.what === 'hearing') return `level ${row.level ?? 0}${row.by ? `, ${row.by}` : ''}`
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
  const title = evidence.data ? `${evidence.data.student} on ${evidence.data.chunk}` : 'Evidence'
  return (
    <Drawer open={choice !== null} onClose={close} title={title} size={560}>
      {evidence.isPending && <Loading what="Reading the evidence" />}
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
        Secure at <strong>{whole(secure.median)}</strong>, between {whole(secure.low)} and {whole(secure.high)} four
        times of five
        {!secure.enough && <span className="muted">; not enough yet to be sure</span>}. Solid {whole(secure.solid)},
        best single pass {whole(secure.best)}, goal {whole(secure.goal)}.
      </p>
      <div
        className="tempo-line"
        role="img"
        aria-label={`Secure between ${whole(secure.low)} and ${whole(secure.high)}, goal ${whole(secure.goal)}`}
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
  if (count >= joins.of) return `The seam ${name} it is shown.`
  return `The seam ${name} it: joined ${count} of ${joins.of} at ${bpm(joins.tempo)} or more.`
}

/** Two ways to grow: all of it faster, and more of it at goal. */
function Axes({ evidence }: { evidence: EvidenceOut }) {
  const { secure, longest } = evidence
  if (!secure) return null
  const fastest = secure.solid === null ? 'not shown yet' : `${bpm(secure.solid)} of ${bpm(secure.goal)}`
  return (
    <dl className="axes">
      <div>
        <dt>All of it, at most</dt>
        <dd>{fastest}</dd>
      </div>
      <div>
        <dt>At {bpm(secure.goal)}, at most</dt>
        <dd>{longest ?? 'nothing yet'}</dd>
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
        <strong>What would raise it:</strong> {evidence.cell.next}
        {evidence.cell.due_on && <> To be tried cold from {day(evidence.cell.due_on)}.</>}
      </p>
      <p className="muted">
        {joined('into', evidence.joins.into, evidence.joins)} {joined('out of', evidence.joins.out, evidence.joins)}
      </p>
      <Axes evidence={evidence} />
      {evidence.secure && <Tempos secure={evidence.secure} />}
      <TempoPicture evidence={evidence} />
      <Heard heard={evidence.heard} choice={choice} />
      {evidence.slips.length > 0 && (
        <>
          <h3>Where it slips in smaller pieces</h3>
          <ul className="slip-places">
            {evidence.slips.map((one) => (
              <li key={one.place}>
                <span>{one.place.replace('→', '')}</span>{' '}
                <meter
                  min={0}
                  max={evidence.slips[0]?.count ?? 1}
                  value={one.count}
                  aria-label={`${one.count} slips`}
                />{' '}
                {one.count}
              </li>
            ))}
          </ul>
        </>
      )}
      {evidence.ways.map((verdict) => (
        <p key={verdict}>
          <strong>Two ways compared:</strong> {verdict}
        </p>
      ))}
      <p className="muted">Newest first.</p>
      {evidence.repetitions.length === 0 && <p>Nothing was played on this chunk yet.</p>}
      {evidence.repetitions.length > 0 && (
        <table className="plain evidence">
          <thead>
            <tr>
              <th>When</th>
              <th>Step</th>
              <th>For</th>
              <th>Tempo</th>
              <th>Counted as</th>
            </tr>
          </thead>
          <tbody>
            {evidence.repetitions.map((r, i) => (
              <tr key={i} className={r.is_retracted ? 'retracted' : ''}>
                <td>{moment(r.played_at)}</td>
                <td>
                  {r.what === 'hearing' ? 'Heard' : r.step_name || 'On their own'}{' '}
                  <span className="muted">{r.span}</span>
                </td>
                <td>{r.what === 'hearing' ? '' : (KINDS[r.kind] ?? r.kind)}</td>
                <td>{r.tempo_bpm === null ? 'no click' : bpm(r.tempo_bpm)}</td>
                <td>
                  {counted(r)} <small className="muted">{SOURCES[r.source] ?? r.source}</small>
                  {r.doubt && <small className="doubt">Not counted: {r.doubt}</small>}
                  {r.reason && <small className="muted"> “{r.reason}”</small>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {evidence.older > 0 && <p className="muted">{evidence.older} older ones are counted, and not listed.</p>}
    </>
  )
}
