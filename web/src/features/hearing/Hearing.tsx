import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { ask } from '../../api/ask'
import { getJudgesSheet, workOutDrill, type ChunkOut, type PieceOut, type SectionOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { useChunks, usePart, usePieces, useSections } from '../../shared/hooks/part.queries'
import { useMay } from '../../shared/hooks/rights'
import { Dialog } from '../../shared/ui/Dialog'
import { keepHearingSelection, hearingSelection } from '../../shared/hooks/hearingSelection'
import { toNumber } from '../../shared/pure/fraction'
import { useAddress } from '../../shared/hooks/useAddress'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { lastPlace, opening, rememberPlace } from '../../shared/hooks/lastPlace'
import { useHasTakes } from '../../shared/hooks/useTakes'
import { AskForTakes } from './AskForTakes'
import { Faults } from './Faults'
import { Judge } from './Judge'
import { Tasks } from './Tasks'
import { t } from '../../words/words'
import './hearing.css'

/** Somebody plays, somebody listens: slips on the notes, a level with its reason, one thing to do next. */
export default function Hearing() {
  const pieces = usePieces()
  const sections = useSections()
  const failed = [pieces, sections].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!pieces.data || !sections.data) return <Loading what={t('hearing.loadingTheHearing')} />
  if (pieces.data.length === 0 || sections.data.length === 0) {
    return (
      <div className="page">
        <h1>{t('hearing.hearing')}</h1>
        <Empty title={t('hearing.nobodyToHearYet')}>
          <p>{t('hearing.hereYouListenAndJudgeFirst')}</p>
          <Link to={pieces.data.length === 0 ? '/music' : '/people'}>
            {pieces.data.length === 0 ? t('hearing.bringInMusic') : t('hearing.addStudents')}
          </Link>
        </Empty>
      </div>
    )
  }
  return <Place pieces={pieces.data} sections={sections.data} />
}

function Place({ pieces, sections }: { pieces: PieceOut[]; sections: SectionOut[] }) {
  const [address, setAddress] = useAddress()
  const [last] = useState(lastPlace)
  const [first] = useState(address.get('student') ?? undefined)
  const asked = { part: address.get('part') ?? undefined, section: address.get('section') ?? undefined, student: first }
  const { part: partId, section: sectionId } = opening(pieces, sections, asked, last)
  const map = useChunks(partId, sectionId)
  const chunks = map.data?.chunks ?? []
  const chunk = chunks.find((one) => one.id === address.get('chunk')) ?? chunks[0]
  const parts = pieces.flatMap((piece) =>
    piece.parts
      .filter((part) => !part.is_set_aside)
      .map((part) => ({ value: part.id, label: `${piece.title} · ${part.name}` })),
  )
  const [chosen, setChosen] = useState(() => hearingSelection(partId, sectionId))
  const toBeHeard = chosen?.partId === partId && chosen.sectionId === sectionId ? chosen.cells : null
  const wanted = toBeHeard ? chunks.filter((one) => toBeHeard.some((cell) => cell.chunkId === one.id)) : chunks
  const section = sections.find((one) => one.id === sectionId)
  const hasTakes = useHasTakes()
  const mayAsk = useMay('send') && hasTakes && section !== undefined
  const [isAsking, setAsking] = useState(false)
  const go = (next: Record<string, string>) => {
    rememberPlace({ part: next.part ?? partId, section: next.section ?? sectionId })
    setAddress({ student: '', ...next })
  }
  return (
    <div className="page wide">
      <div className="page-head">
        <h1>{t('hearing.hearing')}</h1>
        <div className="inline">
          <Select
            aria-label={t('hearing.part')}
            value={partId}
            style={{ minWidth: 240 }}
            options={parts}
            onChange={(part) => go({ part, section: opening(pieces, sections, { part }, {}).section, chunk: '' })}
          />
          <Select
            aria-label={t('hearing.section')}
            value={sectionId}
            style={{ minWidth: 150 }}
            options={sections.map((one) => ({ value: one.id, label: one.name }))}
            onChange={(section) => go({ section, chunk: '' })}
          />
          <Select
            aria-label={t('hearing.chunk')}
            value={chunk?.id}
            style={{ minWidth: 130 }}
            showSearch={{ optionFilterProp: 'label' }}
            options={chunks.map((one) => ({ value: one.id, label: one.label.replace('→', '') }))}
            onChange={(id) => go({ chunk: id })}
          />
          {mayAsk && <Button onClick={() => setAsking(true)}>{t('hearing.askForTakes')}</Button>}
        </div>
      </div>
      {map.isPending && <Loading what={t('hearing.openingThePart')} />}
      {map.isError && <Failed error={map.error} retry={() => void map.refetch()} />}
      {map.data && !chunk && (
        <Empty title={t('hearing.thisPartIsNotSplitYet')}>
          <Link to={`/parts/${partId}/split`}>{t('hearing.splitIt')}</Link>
        </Empty>
      )}
      {toBeHeard && (
        <p className="chosen-to-hear">
          {t('hearing.chosenOnTheWall', { count: toBeHeard.length })}{' '}
          <Button
            size="small"
            onClick={() => {
              keepHearingSelection(null)
              setChosen(null)
            }}
          >
            {t('hearing.hearEverybody')}
          </Button>
        </p>
      )}
      {chunk && (
        <OnChunk
          key={`${sectionId} ${chunk.id}`}
          partId={partId}
          sectionId={sectionId}
          chunk={chunk}
          only={toBeHeard?.filter((cell) => cell.chunkId === chunk.id).map((cell) => cell.studentId) ?? null}
          next={wanted[wanted.indexOf(chunk) + 1]}
          goTo={(id) => go({ chunk: id })}
        />
      )}
      <Faults partId={partId} />
      {hasTakes && <Tasks />}
      {mayAsk && (
        <Dialog isOpen={isAsking} close={() => setAsking(false)} title={t('hearing.takesOf', { name: section.name })}>
          <AskForTakes
            parts={parts}
            section={section}
            first={{ part_id: partId, chunk_id: chunk?.id ?? null, least_seconds: null }}
            close={() => setAsking(false)}
          />
        </Dialog>
      )}
    </div>
  )
}

interface OnChunkProps {
  partId: string
  sectionId: string
  chunk: ChunkOut
  /** Whom somebody chose to hear on it; null: everybody. */
  only: string[] | null
  next: ChunkOut | undefined
  goTo: (chunkId: string) => void
}

function OnChunk({ partId, sectionId, chunk, only, next, goTo }: OnChunkProps) {
  const [address, setAddress] = useAddress()
  const part = usePart(partId)
  const sheet = useQuery({
    queryKey: keys.hearing.chunk(partId, sectionId, chunk.id),
    queryFn: () => ask(getJudgesSheet({ path: { part_id: partId, section_id: sectionId, chunk_id: chunk.id } })),
    placeholderData: keepPreviousData,
  })
  const goal = part.data?.part.goal_bpm
  const music = useQuery({
    queryKey: keys.hearing.music(partId, chunk.id, goal),
    queryFn: () =>
      ask(
        workOutDrill({
          path: { part_id: partId },
          body: { chunk_id: chunk.id, drill: 'alone', ladder: { goal_bpm: goal ?? 100 }, drawn: 1 },
        }),
      ),
    enabled: goal !== undefined,
    staleTime: Infinity,
  })
  const waiting = (sheet.data?.waiting ?? []).filter(
    (one) => !only || only.length === 0 || only.includes(one.student_id),
  )
  if (sheet.isPending) return <Loading what={t('hearing.loadingTheNextStudent')} />
  if (sheet.isError) return <Failed error={sheet.error} retry={() => void sheet.refetch()} />
  if (waiting.length === 0) {
    return (
      <Empty title={t('hearing.noStudentsInThisSection')}>
        <Link to="/people">{t('hearing.openPeople')}</Link>
      </Empty>
    )
  }
  const student = waiting.find((one) => one.student_id === address.get('student')) ?? waiting[0]
  if (!student) return null
  const after = waiting[waiting.indexOf(student) + 1]
  return (
    <Judge
      key={student.student_id}
      partId={partId}
      sheet={{ ...sheet.data, waiting }}
      student={student}
      svg={music.data?.steps[0]?.svg ?? null}
      measures={part.data?.measures ?? []}
      secondsPerQuarter={60 / ((goal ?? 100) * toNumber(part.data?.beat ?? '1'))}
      choose={(id) => setAddress({ student: id })}
      onKept={() => {
        if (after) setAddress({ student: after.student_id })
        else if (next) goTo(next.id)
      }}
      whatNext={
        after
          ? after.name
          : next
            ? t('hearing.onTo', { chunk: next.label.replace('→', '') })
            : t('hearing.thatWasTheLastChunk')
      }
    />
  )
}
