import { useQuery, useQueryClient } from '@tanstack/react-query'
import { Segmented } from 'antd'
import { ask } from '../../api/ask'
import { getWallOpening, type PieceOut, type SectionOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { lastPlace } from '../../shared/hooks/lastPlace'
import { usePieces, useSections } from '../../shared/hooks/part.queries'
import { useAddress } from '../../shared/hooks/useAddress'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { useState } from 'react'
import { Link } from 'react-router'
import { News } from './News'
import { PartWall } from './PartWall'
import { PieceWall } from './PieceWall'
import { SlipsWall } from './SlipsWall'
import { StudentWall } from './StudentWall'
import { wallOf } from './wall.query'
import { WeekWall } from './WeekWall'
import { t } from '../../words/words'
import './wall.css'

const BY = [
  { value: 'part', label: t('wall.part') },
  { value: 'piece', label: t('wall.piece') },
  { value: 'student', label: t('wall.student') },
  { value: 'slips', label: t('wall.whereItSlips') },
  { value: 'week', label: t('wall.thisWeek') },
]

/** Where everybody stands: on a part, in a piece, one student on all they have; and, apart, what was done this week. */
export default function Wall() {
  const pieces = usePieces()
  const sections = useSections()
  const [address] = useAddress()
  const [last] = useState(lastPlace)
  const asked = address.get('part')
  const by = address.get('by') ?? 'part'
  // Only who was nowhere yet is led to where most is open.
  const isLost = !asked && !last.part
  const opens = useQuery({
    queryKey: keys.wall.opening,
    queryFn: () => ask(getWallOpening()),
    staleTime: Infinity,
    enabled: isLost,
  })
  const [partId, sectionId] = asked ? [asked, address.get('section')] : [last.part, last.section]
  const depth = Number(address.get('depth') ?? 0)
  const client = useQueryClient()
  // Asked for before anything is drawn, beside pieces and sections; what goes wrong is told where the Wall is drawn.
  useState(() => {
    if (by === 'part' && partId && sectionId) client.query(wallOf(partId, sectionId, depth)).catch(() => undefined)
  })
  const failed = [pieces, sections, opens].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  const isThere = pieces.data !== undefined && sections.data !== undefined && (!isLost || opens.data !== undefined)
  if (!isThere && (by !== 'part' || !partId || !sectionId)) return <Loading what={t('wall.loadingTheWall')} />
  const open =
    opens.data?.part_id && opens.data.section_id ? { part: opens.data.part_id, section: opens.data.section_id } : {}
  return <WallView pieces={pieces.data} sections={sections.data} mostOpen={open} />
}

interface Props {
  pieces?: PieceOut[]
  sections?: SectionOut[]
  mostOpen: { part?: string; section?: string }
}

function WallView({ pieces, sections, mostOpen }: Props) {
  const [address, setAddress] = useAddress()
  const by = address.get('by') ?? 'part'
  const hasParts = pieces?.some((piece) => piece.parts.length > 0) ?? true
  const isBare = !hasParts || sections?.length === 0
  return (
    <div className="page wide">
      <div className="page-head">
        <h1>{t('wall.wall')}</h1>
        {!isBare && (
          <Segmented
            aria-label={t('wall.seenBy')}
            options={BY}
            value={by}
            onChange={(next) => setAddress({ by: next })}
          />
        )}
      </div>
      {isBare ? (
        <Empty title={t('wall.theWallIsEmpty')}>
          <p>{t('wall.theWallShowsEachStudentsLevel')}</p>
          <Link to={hasParts ? '/people' : '/music'}>{hasParts ? t('wall.addStudents') : t('wall.bringInMusic')}</Link>
        </Empty>
      ) : (
        <>
          {by === 'part' && <News />}
          {by === 'part' && <PartWall pieces={pieces} sections={sections} mostOpen={mostOpen} />}
          {by === 'piece' && pieces && <PieceWall pieces={pieces} />}
          {by === 'student' && sections && <StudentWall sections={sections} />}
          {by === 'slips' && pieces && sections && <SlipsWall pieces={pieces} sections={sections} />}
          {by === 'week' && <WeekWall />}
        </>
      )}
    </div>
  )
}
