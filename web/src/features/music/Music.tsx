import { Alert, Button, Upload } from 'antd'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { said } from '../../api/ask'
import type { PartOut, PieceOut } from '../../api/gen'
import { usePageSets } from '../../shared/hooks/pageSets'
import { usePieces, useSections } from '../../shared/hooks/part.queries'
import { bpm } from '../../shared/pure/time'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { DeletedPieces, DeletePiece } from './Deleting'
import { Importing } from './Importing'
import { OnPaper } from './OnPaper'
import { keyName } from './keys'
import { PageSets } from './PageSets'
import { PartsTable } from './PartsTable'
import { Report } from './Report'
import { useBringPagesIn } from './useBringPagesIn'
import { useImport } from './useImport'
import { PieceAims } from './PieceAims'
import { TagSearch } from './TagSearch'
import { t } from '../../words/words'
import './music.css'

const NOTATION = '.musicxml,.mxl,.xml,.mid,.midi,.abc,.mei'
const PAGES = '.pdf,.png,.jpg,.jpeg,.tif,.tiff,.webp'
const KINDS = `${NOTATION},${PAGES}`

export default function Music() {
  const pieces = usePieces()
  const bringing = useImport()
  const navigate = useNavigate()
  const pages = useBringPagesIn((set) => void navigate(`/pages/${set.id}`))
  /** All that was chosen at once: pages go together, notation one file at a time. */
  function bringIn(file: File, all: File[]) {
    if (!all.some(isPage)) bringing.send({ file })
    else if (file === all[0]) pages.mutate(all.filter(isPage))
    return false
  }
  return (
    <div className="page">
      <div className="page-head">
        <div>
          <h1>{t('music.music')}</h1>
          <p className="lead">{t('music.singlePartsOrFullScoresMusicxml')}</p>
        </div>
        <span className="tool-group">
          <OnPaper />
          <Upload accept={KINDS} multiple showUploadList={false} beforeUpload={bringIn}>
            <Button type="primary" size="large" loading={bringing.isRunning || pages.isPending}>
              {t('music.bringInMusic')}
            </Button>
          </Upload>
        </span>
      </div>
      <Importing {...bringing} />
      {pages.isPending && <Loading what={t('music.sendingPages')} />}
      {pages.isError && <Alert type="error" showIcon role="alert" title={said(pages.error)} />}
      <PageSets />
      {pieces.isPending && <Loading what={t('music.loadingYourMusic')} />}
      {pieces.isError && <Failed error={pieces.error} retry={() => void pieces.refetch()} />}
      {pieces.data?.length === 0 && (
        <Empty title={t('music.noMusicYet')}>
          <p>{t('music.bringInAnEtudeAPart')}</p>
        </Empty>
      )}
      {pieces.data && pieces.data.length > 0 && <TagSearch />}
      <ul className="pieces">
        {pieces.data?.map((piece) => (
          <PieceCard
            key={piece.id}
            piece={piece}
            replace={(file) => bringing.send({ file, replaces: piece.id })}
            isNew={bringing.job?.piece?.id === piece.id && piece.parts.length > 1}
          />
        ))}
      </ul>
      <DeletedPieces />
    </div>
  )
}

const isPage = (file: File) => PAGES.split(',').some((ending) => file.name.toLowerCase().endsWith(ending))

interface CardProps {
  piece: PieceOut
  replace: (file: File) => void
  /** A score just brought in: its parts want to be looked at. */
  isNew: boolean
}

function PieceCard({ piece, replace, isNew }: CardProps) {
  const [open, setOpen] = useState<'' | 'parts' | 'report' | 'aims'>(isNew ? 'parts' : '')
  const set = usePageSets().data?.find((one) => one.piece_id === piece.id)?.id
  const wanted = piece.parts.filter((part) => !part.is_set_aside)
  const aside = piece.parts.length - wanted.length
  const toggle = (what: 'parts' | 'report' | 'aims') => setOpen(open === what ? '' : what)
  return (
    <li className="piece">
      <div className="page-head">
        <div>
          <h2>{piece.title}</h2>
          <p className="muted">{piece.composer || piece.file_name}</p>
        </div>
        <span className="tool-group">
          {wanted.length > 1 && <Link to={`/pieces/${piece.id}`}>{t('music.theWholeScore')}</Link>}
          <Button size="small" onClick={() => toggle('parts')} aria-expanded={open === 'parts'}>
            {t('music.partsAndPlayers')}
          </Button>
          <Button size="small" onClick={() => toggle('report')} aria-expanded={open === 'report'}>
            {t('music.readingReport')}
          </Button>
          <Button size="small" onClick={() => toggle('aims')} aria-expanded={open === 'aims'}>
            {t('music.goalAndObjectives')}
          </Button>
          {set && <Link to={`/pages/${set}`}>{t('music.pages')}</Link>}
          <Upload accept={NOTATION} showUploadList={false} customRequest={({ file }) => replace(file as File)}>
            <Button size="small">{t('music.newVersion')}</Button>
          </Upload>
          <DeletePiece piece={piece} />
        </span>
      </div>
      {piece.objectives.length > 0 && open !== 'aims' && (
        <p className="objectives-line">{piece.objectives.join(' · ')}</p>
      )}
      {open === 'report' && <Report piece={piece} />}
      {open === 'aims' && <PieceAims piece={piece} close={() => setOpen('')} />}
      {open === 'parts' ? (
        <PartsTable piece={piece} close={() => setOpen('')} />
      ) : (
        <table className="plain">
          <thead>
            <tr>
              <th>{t('music.part')}</th>
              <th>{t('music.playedBy')}</th>
              <th>{t('music.keyAsWritten')}</th>
              <th>{t('music.meter')}</th>
              <th>{t('music.goal')}</th>
              <th>{t('music.measures')}</th>
              <th>
                <span className="visually-hidden">{t('music.goTo')}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {wanted.map((part) => (
              <PartRow key={part.id} part={part} />
            ))}
          </tbody>
        </table>
      )}
      {open !== 'parts' && aside > 0 && <p className="muted">{t('music.partsAreSetAside', { count: aside })}</p>}
    </li>
  )
}

function PartRow({ part }: { part: PartOut }) {
  const sections = useSections()
  const players = sections.data
    ?.filter((section) => part.section_ids.includes(section.id))
    .map((section) => section.name)
  return (
    <tr>
      <td>
        <Link to={`/parts/${part.id}/split`}>{part.name}</Link>
        {part.instrument && part.instrument !== part.name && <span className="muted"> · {part.instrument}</span>}
      </td>
      <td>{players?.length === 0 ? <span className="muted">{t('music.noSectionYet')}</span> : players?.join(', ')}</td>
      <td>
        {part.notes === 0 ? (
          <span className="muted">{t('music.onPaper')}</span>
        ) : (
          part.has_pitch && keyName(part.key_fifths, part.mode)
        )}
      </td>
      <td>{part.time}</td>
      <td>{bpm(part.goal_bpm)}</td>
      <td>
        {part.measures}
        {part.has_pickup && (
          <span className="muted"> {t('music.withPickupLastIs', { lastNumber: part.last_number })}</span>
        )}
        {part.measures_played > part.measures && (
          <span className="muted"> {t('music.asPlayed', { measuresPlayed: part.measures_played })}</span>
        )}
        <span className="muted"> · {length(part.playing_seconds)}</span>
      </td>
      <td>
        <Link to={`/parts/${part.id}/split`}>{t('music.open')}</Link>
      </td>
    </tr>
  )
}

/** Minutes and seconds of the whole, repeats played out. */
function length(seconds: number): string {
  const whole = Math.round(seconds)
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`
}
