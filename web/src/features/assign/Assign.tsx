import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { ask, said } from '../../api/ask'
import { previewAssignment, sendAssignment, type AssignIn, type PartDetail, type SectionOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { likelySections } from '../../shared/pure/likely'
import { useOnce } from '../../shared/hooks/once'
import { usePart, useSections } from '../../shared/hooks/part.queries'
import { inDays } from '../../shared/pure/time'
import { useAssignmentDraft } from '../../shared/hooks/assignmentDraft'
import { PartHead } from '../../shared/ui/PartHead'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { Feasibility, PreviewTable, type ExceptionKind } from './Preview'
import { DraftList } from './DraftList'
import { t } from '../../words/words'
import './assign.css'

export default function Assign() {
  const { partId = '' } = useParams()
  const part = usePart(partId)
  const sections = useSections()
  const failed = [part, sections].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!part.data || !sections.data) return <Loading what={t('assign.workingOutThePlan')} />
  return <AssignView detail={part.data} sections={sections.data} />
}

function AssignView({ detail, sections }: { detail: PartDetail; sections: SectionOut[] }) {
  const draft = useAssignmentDraft(detail.part.id)
  const client = useQueryClient()
  const navigate = useNavigate()
  const [sectionIds, setSectionIds] = useState(() => likelySections(sections, detail.part))
  const [dueOn, setDueOn] = useState(inDays(7))
  const [minutesADay, setMinutesADay] = useState(20)
  const [leftOut, setLeftOut] = useState<string[]>([])
  const [exceptions, setExceptions] = useState<Record<string, ExceptionKind>>({})
  const wish: AssignIn = {
    part_id: detail.part.id,
    section_ids: sectionIds,
    due_on: dueOn,
    minutes_a_day: minutesADay,
    left_out: leftOut,
    exceptions,
    items: draft.items.map((item) => ({
      chunk_id: item.chunkId,
      drill: item.drill,
      settings: item.settings,
      ladder: {
        start_bpm: item.start,
        goal_bpm: item.goal,
        step_bpm: item.step,
        scale: item.scale ?? 'clicks',
        way: item.way ?? 'ladder',
      },
      role: item.role ?? 'focus',
      every: item.every ?? 1,
    })),
  }
  const isReady = draft.items.length > 0 && sectionIds.length > 0 && dueOn !== ''
  const preview = useQuery({
    queryKey: keys.assignmentPreview(wish),
    queryFn: () => ask(previewAssignment({ body: wish })),
    enabled: isReady,
    placeholderData: keepPreviousData,
    retry: false,
  })
  const once = useOnce()
  const send = useMutation({
    mutationFn: () => once(wish, (id) => ask(sendAssignment({ body: { ...wish, id } }))),
    onSuccess: async () => {
      draft.clear()
      await client.invalidateQueries({ queryKey: keys.assignments })
      await navigate('/sent')
    },
  })
  if (draft.items.length === 0) {
    return (
      <div className="page">
        <PartHead detail={detail} />
        <Empty title={t('assign.nothingChosenYet')}>
          <p>{t('assign.onTheBenchChooseAChunk')}</p>
          <Link to={`/parts/${detail.part.id}/bench`}>{t('assign.openTheDrillBench')}</Link>
        </Empty>
      </div>
    )
  }
  if (sections.length === 0) {
    return (
      <div className="page">
        <PartHead detail={detail} />
        <Empty title={t('assign.noStudentsYet')}>
          <p>{t('assign.makeASectionAndAddIts')}</p>
          <Link to="/people">{t('assign.openPeople')}</Link>
        </Empty>
      </div>
    )
  }
  const everybody = sections.filter((s) => s.students.length > 0).map((s) => s.id)
  return (
    <div className="page">
      <PartHead detail={detail} />
      <h2>{t('assign.what')}</h2>
      <DraftList items={draft.items} remove={draft.remove} replace={draft.replace} />
      <h2>{t('assign.forWhomAndByWhen')}</h2>
      <div className="assign-fields">
        <label className="field sections-field">
          <span>{t('assign.sections')}</span>
          <Select
            mode="multiple"
            aria-label={t('assign.sections')}
            value={sectionIds}
            placeholder={t('assign.choose')}
            onChange={(ids: string[]) => {
              setSectionIds(ids)
              setLeftOut([])
              setExceptions({})
            }}
            showSearch={{ optionFilterProp: 'label' }}
            options={sections.map((s) => ({ value: s.id, label: `${s.name} (${s.students.length})` }))}
          />
        </label>
        <Button onClick={() => setSectionIds(everybody)} disabled={everybody.length === sectionIds.length}>
          {t('assign.theWholeEnsemble')}
        </Button>
        <label className="field">
          <span>{t('assign.due')}</span>
          <Input
            type="date"
            aria-label={t('assign.dueDate')}
            value={dueOn}
            onChange={(event) => setDueOn(event.target.value)}
          />
        </label>
        <label className="field">
          <span>{t('assign.minutesADay')}</span>
          <InputNumber
            aria-label={t('assign.minutesADay')}
            min={5}
            max={120}
            value={minutesADay}
            onChange={(value) => setMinutesADay(value ?? 20)}
          />
        </label>
      </div>
      <p className="muted">{t('assign.eachSectionGetsTheDrillFrom')}</p>
      {preview.isError && <Alert type="error" showIcon title={said(preview.error)} role="alert" />}
      {preview.data && !preview.isError && (
        <>
          <Feasibility preview={preview.data} />
          <PreviewTable
            preview={preview.data}
            leftOut={leftOut}
            setLeftOut={setLeftOut}
            exceptions={exceptions}
            setExceptions={setExceptions}
          />
        </>
      )}
      {send.isError && <Alert type="error" showIcon title={said(send.error)} role="alert" />}
      <Button
        type="primary"
        size="large"
        disabled={!preview.data || preview.isError || preview.isPlaceholderData}
        loading={send.isPending}
        onClick={() => send.mutate()}
      >
        {t('assign.sendIt')}
      </Button>
    </div>
  )
}
