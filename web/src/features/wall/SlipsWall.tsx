import { useMutation, useQuery } from '@tanstack/react-query'
import { App, Button, Select } from 'antd'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { ask, said } from '../../api/ask'
import {
  getTrouble,
  keepPassage,
  type PieceOut,
  type SectionOut,
  type SlipStretchOut,
  type TroubleOut,
} from '../../api/gen'
import { keys } from '../../api/keys'
import { markNotes } from '../../shared/pure/noteTap'
import { lastPlace, opening, rememberPlace } from '../../shared/hooks/lastPlace'
import { useEngraving } from '../../shared/hooks/part.queries'
import { useMay } from '../../shared/hooks/rights'
import { useAddress } from '../../shared/hooks/useAddress'
import { Score } from '../../shared/ui/Score'
import { Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'

const SHADES = 3

/** Slips note by note over a part, of a student, a section or everybody, and what to take out of it. */
export function SlipsWall({ pieces, sections }: { pieces: PieceOut[]; sections: SectionOut[] }) {
  const [address, setAddress] = useAddress()
  const [last] = useState(lastPlace)
  const asked = { part: address.get('part') ?? undefined, section: address.get('section') ?? undefined }
  const place = opening(pieces, sections, asked, last)
  const section = address.get('whole') === 'yes' ? undefined : sections.find((one) => one.id === place.section)
  const student = section?.students.find((one) => one.id === address.get('student'))
  useEffect(() => rememberPlace({ part: place.part, section: place.section }), [place.part, place.section])
  const whose = { ...(section && { section_id: section.id }), ...(student && { student_id: student.id }) }
  const trouble = useQuery({
    queryKey: keys.wall.slips(place.part, whose),
    queryFn: () => ask(getTrouble({ path: { part_id: place.part }, query: whose })),
    enabled: place.part !== '',
  })
  const engraving = useEngraving(place.part, 'page')
  const failed = [trouble, engraving].find((query) => query.isError)
  const parts = pieces.flatMap((piece) =>
    piece.parts.map((part) => ({ value: part.id, label: `${piece.title} · ${part.name}` })),
  )
  return (
    <>
      <div className="inline wall-tools">
        <Select
          aria-label={t('wall.part')}
          value={place.part}
          showSearch={{ optionFilterProp: 'label' }}
          style={{ minWidth: 240 }}
          options={parts}
          onChange={(part) =>
            setAddress({ part, section: opening(pieces, sections, { part }, {}).section, student: '' })
          }
        />
        <Select
          aria-label={t('wall.section')}
          value={section?.id ?? ''}
          style={{ minWidth: 150 }}
          options={[
            { value: '', label: t('wall.everybody') },
            ...sections.map((one) => ({ value: one.id, label: one.name })),
          ]}
          onChange={(id) =>
            setAddress(id === '' ? { whole: 'yes', student: '' } : { whole: '', section: id, student: '' })
          }
        />
        {section && (
          <Select
            aria-label={t('wall.student')}
            allowClear
            placeholder={t('wall.allOfThem')}
            value={student?.id ?? null}
            style={{ minWidth: 150 }}
            options={section.students.map((one) => ({ value: one.id, label: one.name }))}
            onChange={(id: string | null) => setAddress({ student: id ?? '' })}
          />
        )}
      </div>
      {failed && <Failed error={failed.error} retry={() => void failed.refetch()} />}
      {!failed && (!trouble.data || !engraving.data) && <Loading what={t('wall.loadingTheSlips')} />}
      {trouble.data && engraving.data && (
        <Map
          trouble={trouble.data}
          svg={engraving.data}
          partId={place.part}
          label={parts.find((one) => one.value === place.part)?.label ?? ''}
        />
      )}
    </>
  )
}

interface MapProps {
  trouble: TroubleOut
  svg: string
  partId: string
  label: string
}

function Map({ trouble, svg, partId, label }: MapProps) {
  const sheet = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const element = sheet.current
    if (!element) return
    const most = Math.max(...trouble.notes.map((one) => one.count), 1)
    const undo = Array.from({ length: SHADES }, (_, shade) => {
      const here = trouble.notes.filter((one) => Math.ceil((one.count / most) * SHADES) === shade + 1)
      return markNotes(
        element,
        here.map((one) => one.at),
        `slips-${shade + 1}`,
      )
    })
    return () => undo.forEach((one) => one())
  }, [trouble, svg])
  if (trouble.total === 0) return <p className="lead">{t('wall.noSlipsOnNotesYetStudents')}</p>
  return (
    <>
      <p>
        {t('wall.slipsOnOfNotes', {
          count: trouble.total,
          notesCount: trouble.notes.length,
          ofNotes: trouble.of_notes,
        })}{' '}
        {trouble.stretches.length === 0 && t('wall.noSlipsLieTogetherSoThere')}
      </p>
      <ol className="stretches">
        {trouble.stretches.map((one) => (
          <Stretch key={one.label} one={one} total={trouble.total} partId={partId} />
        ))}
      </ol>
      <div className="sheet my-sheet slips-map" ref={sheet}>
        <Score svg={svg} label={t('wall.darkerNotesSlipMoreOften', { label })} />
      </div>
    </>
  )
}

function Stretch({ one, total, partId }: { one: SlipStretchOut; total: number; partId: string }) {
  const { message } = App.useApp()
  const navigate = useNavigate()
  const mayKeep = useMay('keep_music')
  const name = one.label.replace('→', '')
  const take = useMutation({
    mutationFn: () => ask(keepPassage({ path: { part_id: partId }, body: { words: name } })),
    onSuccess: (passage) => navigate(`/parts/${partId}/bench?chunk=${passage.id}`),
    onError: (error) => void message.error(said(error)),
  })
  return (
    <li>
      <strong>{name}</strong>
      {t('wall.ofSlipsOnNotes', { count: one.notes, amount: one.count, total })}{' '}
      {mayKeep && (
        <Button size="small" loading={take.isPending} onClick={() => take.mutate()}>
          {t('wall.drillIt')}
        </Button>
      )}
    </li>
  )
}
