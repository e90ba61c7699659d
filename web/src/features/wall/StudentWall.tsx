import { useQuery } from '@tanstack/react-query'
import { Select } from 'antd'
import { useRef, useState } from 'react'
import { ask } from '../../api/ask'
import { getStudentWall, type MyPartOut, type SectionOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { useEngraving, usePart } from '../../shared/hooks/part.queries'
import { chunkAt, nearest } from '../../shared/pure/scoreMap'
import { useAddress } from '../../shared/hooks/useAddress'
import { useScoreBoxes } from '../../shared/hooks/useScoreBoxes'
import { LevelMark } from '../../shared/ui/LevelMark'
import { MyBrackets } from '../../shared/ui/MyBrackets'
import { Score } from '../../shared/ui/Score'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { EvidenceDrawer } from './EvidenceDrawer'
import { Legend } from './Legend'
import { t } from '../../words/words'

/** One student on all they were sent: levels over the engraved music, as the student sees them. */
export function StudentWall({ sections }: { sections: SectionOut[] }) {
  const [address, setAddress] = useAddress()
  const students = sections.flatMap((section) =>
    section.students.map((one) => ({ value: one.id, label: `${one.name} · ${section.name}` })),
  )
  const studentId = students.find((one) => one.value === address.get('student'))?.value ?? students[0]?.value ?? ''
  const wall = useQuery({
    queryKey: keys.wall.student(studentId),
    queryFn: () => ask(getStudentWall({ path: { student_id: studentId } })),
    enabled: studentId !== '',
  })
  if (studentId === '') return <Empty title={t('wall.noPlayersHereYet')}>{t('wall.addStudentsInPeople')}</Empty>
  return (
    <>
      <div className="inline wall-tools">
        <Select
          aria-label={t('wall.student')}
          value={studentId}
          showSearch={{ optionFilterProp: 'label' }}
          style={{ minWidth: 260 }}
          onChange={(student) => setAddress({ student })}
          options={students}
        />
      </div>
      <Legend />
      {wall.isPending && <Loading what={t('wall.loadingTheMap')} />}
      {wall.isError && <Failed error={wall.error} retry={() => void wall.refetch()} />}
      {wall.data?.parts.length === 0 && (
        <Empty title={t('wall.youHaveSentThisStudentNothing')}>
          <p>{t('wall.theMusicYouSendAppearsHere', { name: wall.data.name })}</p>
        </Empty>
      )}
      {wall.data?.parts.map((part) => (
        <OnePart key={part.part_id} part={part} studentId={studentId} />
      ))}
    </>
  )
}

function OnePart({ part, studentId }: { part: MyPartOut; studentId: string }) {
  const engraving = useEngraving(part.part_id, 'page')
  const detail = usePart(part.part_id)
  const failed = [engraving, detail].find((query) => query.isError)
  return (
    <section>
      <h2>
        {part.title} <small className="muted">{part.part}</small>
      </h2>
      {failed && <Failed error={failed.error} retry={() => void failed.refetch()} />}
      {!failed && (!engraving.data || !detail.data) && <Loading what={t('wall.engravingThePart')} />}
      {engraving.data && detail.data && (
        <Map part={part} studentId={studentId} svg={engraving.data} measures={detail.data.measures} />
      )}
    </section>
  )
}

interface MapProps {
  part: MyPartOut
  studentId: string
  svg: string
  measures: Parameters<typeof MyBrackets>[0]['measures']
}

function Map({ part, studentId, svg, measures }: MapProps) {
  const sheet = useRef<HTMLDivElement>(null)
  const { boxes, size } = useScoreBoxes(sheet, svg)
  const [chosen, setChosen] = useState(-1)
  const chunk = part.chunks[chosen]
  return (
    <>
      <div
        className="sheet my-sheet"
        ref={sheet}
        onClick={(event) => {
          const corner = event.currentTarget.getBoundingClientRect()
          const place = nearest(boxes, event.clientX - corner.left, event.clientY - corner.top)
          if (place) setChosen(chunkAt(part.chunks, place))
        }}
      >
        <Score svg={svg} label={t('wall.withLevelsOverIt', { title: part.title, part: part.part })} />
        <MyBrackets
          boxes={boxes}
          chunks={part.chunks}
          cells={part.cells}
          measures={measures}
          selected={chosen}
          {...size}
        />
      </div>
      <ul className="student-chunks" aria-label={t('wall.chunks')}>
        {part.chunks.map((one, i) => (
          <li key={one.id}>
            <button type="button" className="as-link" onClick={() => setChosen(i)}>
              <LevelMark level={part.cells[i]?.level ?? 0} size={18} /> {one.label.replace('→', '')}
            </button>
          </li>
        ))}
      </ul>
      <EvidenceDrawer
        choice={chunk ? { partId: part.part_id, studentId, chunkId: chunk.id } : null}
        close={() => setChosen(-1)}
      />
    </>
  )
}
