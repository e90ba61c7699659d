import { Button, Input, Select } from 'antd'
import { useEffect, useMemo, useState } from 'react'
import { Link } from 'react-router'
import type { PieceOut, SectionOut, WallOut } from '../../api/gen'
import { useMay } from '../../shared/hooks/rights'
import { useAddress } from '../../shared/hooks/useAddress'
import { Place } from '../../shared/ui/Place'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { CellsBar } from './CellsBar'
import { EvidenceDrawer, type CellChoice } from './EvidenceDrawer'
import { Grid, type GridColumn, type GridRow } from './Grid'
import { Legend } from './Legend'
import { Printed } from './Printed'
import { downloadCsv } from './csv'
import { lastPlace, opening, rememberPlace, type Place as At } from '../../shared/hooks/lastPlace'
import { ORDERS, shownOf, SHOWS, type Order, type Show, type Shown } from './shown'
import { useChoosing } from './useChoosing'
import { useWall } from './wall.query'
import { t } from '../../words/words'

interface Props {
  /** None yet: where one was last is shown as soon as it is there, and what else there is to choose when that is. */
  pieces?: PieceOut[]
  sections?: SectionOut[]
  mostOpen: Partial<At>
}

/** One section on one part, chunk by chunk. */
export function PartWall({ pieces, sections, mostOpen }: Props) {
  const [address, setAddress] = useAddress()
  const [last] = useState(lastPlace)
  const [first] = useState(address.get('student') ?? undefined)
  const asked = { part: address.get('part') ?? undefined, section: address.get('section') ?? undefined, student: first }
  const isKnown = pieces !== undefined && sections !== undefined
  const wanted = asked.part ? asked : last
  const { part: partId, section: sectionId } = isKnown
    ? opening(pieces, sections, asked, last.part ? last : mostOpen)
    : { part: wanted.part ?? '', section: wanted.section ?? '' }
  useEffect(() => {
    if (isKnown && partId && sectionId) rememberPlace({ part: partId, section: sectionId })
  }, [isKnown, partId, sectionId])
  const depth = Number(address.get('depth') ?? 0)
  const wall = useWall(partId, sectionId, depth)
  const isSorted = ['show', 'order', 'name'].some((key) => address.get(key))
  const parts = (pieces ?? []).flatMap((piece) =>
    piece.parts.map((part) => ({ value: part.id, label: `${piece.title} · ${part.name}` })),
  )
  const title = `${parts.find((part) => part.value === partId)?.label ?? ''}, ${sections?.find((one) => one.id === sectionId)?.name ?? ''}`
  return (
    <>
      <div className="inline wall-tools">
        <Select
          aria-label={t('wall.part')}
          loading={!pieces}
          value={pieces && partId}
          showSearch={{ optionFilterProp: 'label' }}
          onChange={(id) =>
            setAddress({ part: id, section: opening(pieces ?? [], sections ?? [], { part: id }, {}).section })
          }
          options={parts}
          style={{ minWidth: 240 }}
        />
        <Select
          aria-label={t('wall.section')}
          loading={!sections}
          value={sections && sectionId}
          onChange={(id) => setAddress({ section: id })}
          options={sections?.map((s) => ({ value: s.id, label: s.name }))}
          style={{ minWidth: 140 }}
        />
        {wall.data && wall.data.deepest > 0 && (
          <Select
            aria-label={t('wall.howFine')}
            value={Math.min(depth, wall.data.deepest)}
            onChange={(next) => setAddress({ depth: String(next) })}
            options={Array.from({ length: wall.data.deepest + 1 }, (_, i) => ({
              value: i,
              label: i === 0 ? t('wall.chunks') : i === 1 ? t('wall.insideThem') : t('wall.insideThose', { i }),
            }))}
            style={{ minWidth: 130 }}
          />
        )}
        <Filters />
        <Button disabled={!wall.isWhole} onClick={() => wall.data && downloadCsv(wall.data)}>
          {t('wall.csv')}
        </Button>
        <Button disabled={!wall.isWhole} onClick={() => window.print()}>
          {t('wall.print')}
        </Button>
      </div>
      <Legend />
      {wall.data && wall.data.waiting > 0 && (
        <p className="muted" role="status">
          {t('wall.levelsFollow', { done: wall.data.rows.length - wall.data.waiting, of: wall.data.rows.length })}
        </p>
      )}
      {wall.data && wall.data.stuck > 0 && (
        <p className="fails" role="status">
          {t('wall.levelsAreStuck', { count: wall.data.stuck })}
        </p>
      )}
      {(wall.isPending || (wall.isError && !isKnown)) && <Loading what={t('wall.loadingTheEvidence')} />}
      {wall.isError && isKnown && <Failed error={wall.error} retry={() => void wall.refetch()} />}
      {wall.data && !wall.isWhole && isSorted && <Loading what={t('wall.loadingEverybodysEvidence')} />}
      {wall.data && (wall.isWhole || !isSorted) && (
        <Cells
          key={`${partId} ${sectionId} ${depth}`}
          wall={wall.data}
          title={title}
          partId={partId}
          sectionId={sectionId}
        />
      )}
    </>
  )
}

function Filters() {
  const [address, setAddress] = useAddress()
  return (
    <>
      <Select<Show>
        aria-label={t('wall.show')}
        value={(address.get('show') as Show | null) ?? 'all'}
        options={SHOWS}
        onChange={(show) => setAddress({ show }, { replace: true })}
        style={{ minWidth: 140 }}
      />
      <Select<Order>
        aria-label={t('wall.orderOfChunks')}
        value={(address.get('order') as Order | null) ?? 'score'}
        options={ORDERS}
        onChange={(order) => setAddress({ order }, { replace: true })}
        style={{ minWidth: 150 }}
      />
      <Input
        aria-label={t('wall.student')}
        placeholder={t('wall.student')}
        allowClear
        value={address.get('name') ?? ''}
        onChange={(event) => setAddress({ name: event.target.value }, { replace: true })}
        style={{ width: 130 }}
      />
    </>
  )
}

interface CellsProps {
  wall: WallOut
  title: string
  partId: string
  sectionId: string
}

function Cells({ wall, title, partId, sectionId }: CellsProps) {
  const [address] = useAddress()
  const mayKeep = useMay('keep_music')
  const [choice, setChoice] = useState<CellChoice | null>(() => {
    const [studentId, chunkId] = [address.get('student'), address.get('chunk')]
    return studentId && chunkId ? { partId, studentId, chunkId } : null
  })
  const columns = useMemo<GridColumn[]>(
    () =>
      wall.chunks.map((chunk, i) => ({
        key: chunk.id,
        name: chunk.label,
        head: <Place name={chunk.label} tab={chunk.tab} />,
        foot: wall.standings[i] ?? '',
        isBeside: i >= wall.chunks.length - wall.beside,
      })),
    [wall],
  )
  const rows = useMemo<GridRow[]>(
    () =>
      wall.rows.map((row) => ({
        key: row.student_id,
        name: row.name,
        levels: row.levels,
        seams: row.seams,
        due: new Set(row.due),
      })),
    [wall],
  )
  const [show, order, name] = [
    (address.get('show') as Show | null) ?? 'all',
    (address.get('order') as Order | null) ?? 'score',
    address.get('name') ?? '',
  ]
  const shown = useMemo(() => shownOf(columns, rows, show, order, name), [columns, rows, show, order, name])
  const cellAt = (row: number, column: number) => ({
    studentId: rows[shown.rowOf[row] ?? -1]?.key ?? '',
    chunkId: columns[shown.columnOf[column] ?? -1]?.key ?? '',
  })
  if (wall.chunks.length === 0) {
    return (
      <Empty title={t('wall.thisPartIsNotSplitYet')}>
        {mayKeep && <Link to={`/parts/${partId}/split`}>{t('wall.splitIt')}</Link>}
      </Empty>
    )
  }
  if (wall.rows.length === 0) {
    return (
      <Empty title={t('wall.noStudentsInThisSectionYet')}>
        {mayKeep && <Link to="/people">{t('wall.addStudents')}</Link>}
      </Empty>
    )
  }
  return (
    <>
      {shown.rows.length === 0 || shown.columns.length === 0 ? (
        <p className="muted" role="status">
          {t('wall.noStudentHereHasThat')}
        </p>
      ) : (
        // What is shown changes which cell is which: the choice starts anew.
        <Board
          key={`${show} ${order} ${name}`}
          title={title}
          partId={partId}
          sectionId={sectionId}
          shown={shown}
          cellAt={cellAt}
          open={setChoice}
        />
      )}
      <Printed title={title} columns={shown.columns} rows={shown.rows} />
      <EvidenceDrawer choice={choice} close={() => setChoice(null)} />
    </>
  )
}

interface BoardProps extends Omit<CellsProps, 'wall'> {
  shown: Shown
  cellAt: (row: number, column: number) => { studentId: string; chunkId: string }
  open: (choice: CellChoice) => void
}

function Board({ title, partId, sectionId, shown, cellAt, open }: BoardProps) {
  const choosing = useChoosing()
  return (
    <>
      <CellsBar
        choosing={choosing}
        cells={choosing.cells.map(({ row, column }) => cellAt(row, column))}
        partId={partId}
        sectionId={sectionId}
      />
      <Grid
        place={`${partId} ${sectionId}`}
        label={title}
        columns={shown.columns}
        rows={shown.rows}
        choosing={choosing}
        open={(row, column) => open({ partId, ...cellAt(row, column) })}
      />
    </>
  )
}
