import { useQuery } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { ask } from '../../api/ask'
import { getWall, type CellOut, type PieceOut, type SectionOut, type WallOut } from '../../api/gen'
import { useAddress } from '../../shared/lib/useAddress'
import { usePieces, useSections } from '../../shared/lib/part.queries'
import { LEVEL_NAMES, LevelMark } from '../../shared/ui/LevelMark'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { EvidenceDrawer, type CellChoice } from './EvidenceDrawer'
import { downloadCsv } from './csv'
import { News } from './News'
import { lastPlace, opening, rememberPlace } from './opening'
import { Place } from '../../shared/ui/Place'

export default function Wall() {
  const pieces = usePieces()
  const sections = useSections()
  const failed = [pieces, sections].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!pieces.data || !sections.data) return <Loading what="Hanging up the Wall" />
  return <WallView pieces={pieces.data} sections={sections.data} />
}

function WallView({ pieces, sections }: { pieces: PieceOut[]; sections: SectionOut[] }) {
  const [address, setAddress] = useAddress()
  const parts = pieces.flatMap((piece) => piece.parts.map((part) => ({ id: part.id, label: `${piece.title} · ${part.name}` })))
  const [last] = useState(lastPlace)
  const asked = { part: address.get('part') ?? undefined, section: address.get('section') ?? undefined }
  const { part: partId, section: sectionId } = opening(pieces, sections, asked, last)
  useEffect(() => {
    if (partId && sectionId) rememberPlace({ part: partId, section: sectionId })
  }, [partId, sectionId])
  const depth = Number(address.get('depth') ?? 0)
  const [choice, setChoice] = useState<CellChoice | null>(() => {
    const [studentId, chunkId] = [address.get('student'), address.get('chunk')]
    return studentId && chunkId ? { partId, studentId, chunkId } : null
  })
  const wall = useQuery({
    queryKey: ['wall', partId, sectionId, depth],
    queryFn: () => ask(getWall({ path: { part_id: partId, section_id: sectionId }, query: { depth } })),
    enabled: partId !== '' && sectionId !== '',
  })
  if (parts.length === 0 || sections.length === 0) {
    return (
      <div className="page">
        <h1>Wall</h1>
        <Empty title="The Wall is bare">
          <p>It shows students by chunks, once there is a part and a section.</p>
          <Link to={parts.length === 0 ? '/music' : '/people'}>{parts.length === 0 ? 'Bring in music' : 'Write students in'}</Link>
        </Empty>
      </div>
    )
  }
  return (
    <div className="page wide">
      <div className="page-head">
        <h1>Wall</h1>
        <div className="inline">
          <Select
            aria-label="Part"
            value={partId}
            onChange={(id) => setAddress({ part: id, section: opening(pieces, sections, { part: id }, {}).section })}
            options={parts.map((p) => ({ value: p.id, label: p.label }))}
            style={{ minWidth: 260 }}
          />
          <Select
            aria-label="Section"
            value={sectionId}
            onChange={(id) => setAddress({ section: id })}
            options={sections.map((s) => ({ value: s.id, label: s.name }))}
            style={{ minWidth: 160 }}
          />
          {wall.data && wall.data.deepest > 0 && (
            <Select
              aria-label="How fine"
              value={Math.min(depth, wall.data.deepest)}
              onChange={(next) => setAddress({ depth: String(next) })}
              options={Array.from({ length: wall.data.deepest + 1 }, (_, i) => ({ value: i, label: i === 0 ? 'Chunks' : i === 1 ? 'Inside them' : `Inside those (${i})` }))}
              style={{ minWidth: 130 }}
            />
          )}
          {wall.data && <Button onClick={() => downloadCsv(wall.data)}>CSV</Button>}
        </div>
      </div>
      <News />
      <Legend />
      {wall.isPending && <Loading what="Reading the evidence" />}
      {wall.isError && <Failed error={wall.error} retry={() => void wall.refetch()} />}
      {wall.data && <Grid wall={wall.data} partId={partId} choose={setChoice} />}
      <EvidenceDrawer choice={choice} close={() => setChoice(null)} />
    </div>
  )
}

/** An open seam shows as a gap at that edge of the cell, once the chunk is steady. */
function edges(cell: CellOut): string {
  if (cell.level < 3) return ''
  return `${cell.seam_in ? ' seam-in' : ' open-in'}${cell.seam_out ? ' seam-out' : ' open-out'}`
}

function open(cell: CellOut): string {
  if (cell.level < 3 || (cell.seam_in && cell.seam_out)) return ''
  if (cell.seam_in) return ', seam out open'
  return cell.seam_out ? ', seam in open' : ', both seams open'
}

function Legend() {
  return (
    <p className="legend">
      {Object.entries(LEVEL_NAMES).map(([level, name]) => (
        <span key={level}>
          <LevelMark level={Number(level)} size={18} /> {name}
        </span>
      ))}
      <span>
        <span className="cell seam-in open-out sample" aria-hidden="true" /> a line at an edge: seam shown; dots: open
      </span>
    </p>
  )
}

interface GridProps {
  wall: WallOut
  partId: string
  choose: (choice: CellChoice) => void
}

function Grid({ wall, partId, choose }: GridProps) {
  if (wall.chunks.length === 0) {
    return (
      <Empty title="This part is not split yet">
        <Link to={`/parts/${partId}/split`}>Split it</Link>
      </Empty>
    )
  }
  if (wall.rows.length === 0) {
    return (
      <Empty title="Nobody plays in this section yet">
        <Link to="/people">Write students in</Link>
      </Empty>
    )
  }
  return (
    <div className="wall-scroll">
      <table className="wall">
        <thead>
          <tr>
            <th scope="col">Student</th>
            {wall.chunks.map((chunk, i) => (
              <th key={chunk.id} scope="col" className={i === wall.chunks.length - wall.beside ? 'beside' : undefined} title={i >= wall.chunks.length - wall.beside ? 'Sent as a passage of its own' : undefined}>
                <Place name={chunk.label} tab={chunk.tab} />
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {wall.rows.map((row) => (
            <tr key={row.student_id}>
              <th scope="row">{row.name}</th>
              {row.cells.map((cell, i) => {
                const chunk = wall.chunks[i]
                if (!chunk) return null
                return (
                  <td key={chunk.id}>
                    <button
                      type="button"
                      className={`cell${edges(cell)}`}
                      aria-label={`${row.name}, ${chunk.label}: ${cell.level}, ${LEVEL_NAMES[cell.level] ?? ''}${open(cell)}`}
                      title={cell.why}
                      onClick={() => choose({ partId, studentId: row.student_id, chunkId: chunk.id })}
                    >
                      <LevelMark level={cell.level} size={20} />
                    </button>
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">Section</th>
            {wall.standings.map((text, i) => (
              <td key={i}>{text}</td>
            ))}
          </tr>
        </tfoot>
      </table>
    </div>
  )
}
