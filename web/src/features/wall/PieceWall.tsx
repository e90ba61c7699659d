import { useQuery } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { ask } from '../../api/ask'
import { getPieceWall, type PieceOut, type PieceWallOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { csvOf, download } from '../../shared/hooks/csv'
import { useAddress } from '../../shared/hooks/useAddress'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { Grid, type GridColumn, type GridRow } from './Grid'
import { Legend } from './Legend'
import { lastPlace } from '../../shared/hooks/lastPlace'
import { Printed } from './Printed'
import { t } from '../../words/words'

/** Everybody who plays in a piece, passage by passage; the last row says how all that are shown stand. */
export function PieceWall({ pieces }: { pieces: PieceOut[] }) {
  const [address, setAddress] = useAddress()
  const [last] = useState(lastPlace)
  const before = pieces.find((piece) => piece.parts.some((part) => part.id === last.part))
  const pieceId = pieces.find((piece) => piece.id === address.get('piece'))?.id ?? before?.id ?? pieces[0]?.id ?? ''
  const wall = useQuery({
    queryKey: keys.wall.piece(pieceId),
    queryFn: () => ask(getPieceWall({ path: { piece_id: pieceId } })),
  })
  return (
    <>
      <div className="inline wall-tools">
        <Select
          aria-label={t('wall.piece')}
          value={pieceId}
          style={{ minWidth: 240 }}
          onChange={(piece) => setAddress({ piece, only: '' })}
          options={pieces.map((piece) => ({ value: piece.id, label: piece.title }))}
        />
        {wall.data && (
          <Select
            aria-label={t('wall.sections')}
            allowClear
            placeholder={t('wall.allSections')}
            value={address.get('only') || null}
            onChange={(only: string | null) => setAddress({ only: only ?? '' }, { replace: true })}
            options={[...new Set(wall.data.desks.map((desk) => desk.section))].map((name) => ({
              value: name,
              label: name,
            }))}
            style={{ minWidth: 160 }}
          />
        )}
        {wall.data && (
          <Button onClick={() => download(`${wall.data.title}.csv`, csvOf(linesOf(wall.data)))}>{t('wall.csv')}</Button>
        )}
        {wall.data && <Button onClick={() => window.print()}>{t('wall.print')}</Button>}
      </div>
      <Legend />
      {wall.isPending && <Loading what={t('wall.loadingTheScore')} />}
      {wall.isError && <Failed error={wall.error} retry={() => void wall.refetch()} />}
      {wall.data && <Whole key={pieceId} wall={wall.data} only={address.get('only') ?? ''} />}
    </>
  )
}

function Whole({ wall, only }: { wall: PieceWallOut; only: string }) {
  const navigate = useNavigate()
  const desks = useMemo(() => wall.desks.filter((desk) => only === '' || desk.section === only), [wall, only])
  const columns = useMemo<GridColumn[]>(() => {
    const standings = only === '' ? wall.standings : (desks[0]?.standings ?? [])
    return wall.passages.map((name, i) => ({ key: name, name, head: name, foot: standings[i] ?? '' }))
  }, [wall, desks, only])
  const rows = useMemo<GridRow[]>(
    () =>
      desks.flatMap((desk) =>
        desk.rows.map((row) => ({
          key: `${desk.part_id} ${row.student_id}`,
          name: `${row.name}, ${desk.section}`,
          head: (
            <>
              {row.name} <small className="muted">{desk.section}</small>
            </>
          ),
          levels: row.levels,
          seams: row.open.map((isOpen) => (isOpen ? '' : 'both') as GridRow['seams'][number]),
          due: new Set<number>(),
        })),
      ),
    [desks],
  )
  const where = useMemo(() => desks.flatMap((desk) => desk.rows.map((row) => ({ desk, row }))), [desks])
  if (rows.length === 0) {
    return (
      <Empty title={t('wall.nobodyPlaysThisPieceYet')}>
        <p>{t('wall.inMusicChooseWhichSectionPlays')}</p>
      </Empty>
    )
  }
  return (
    <>
      <Grid
        place={wall.title + only}
        label={wall.title}
        whole={only || t('wall.everybody')}
        columns={columns}
        rows={rows}
        open={(row, column) => {
          const here = where[row]
          const chunk = here?.desk.chunk_ids[column]
          if (here && chunk)
            void navigate(
              `/wall?by=part&part=${here.desk.part_id}&section=${here.desk.section_id}&student=${here.row.student_id}&chunk=${chunk}`,
            )
        }}
      />
      <Printed title={wall.title} columns={columns} rows={rows} />
    </>
  )
}

function linesOf(wall: PieceWallOut): string[][] {
  return [
    [t('wall.section'), t('wall.student'), ...wall.passages],
    ...wall.desks.flatMap((desk) =>
      desk.rows.map((row) => [
        desk.section,
        row.name,
        ...row.levels.map((level) => (level === null ? '' : String(level))),
      ]),
    ),
  ]
}
