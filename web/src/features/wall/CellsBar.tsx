import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Select } from 'antd'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { ask, said } from '../../api/ask'
import { listCures, sayCells, sendCells, type CellsSentOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { useOnce } from '../../shared/hooks/once'
import { useMay } from '../../shared/hooks/rights'
import { DrillWish, useWish } from '../../shared/ui/DrillWish'
import { keepHearingSelection } from '../../shared/hooks/hearingSelection'
import type { Choosing } from './useChoosing'
import { t } from '../../words/words'

interface Props {
  choosing: Choosing
  cells: { studentId: string; chunkId: string }[]
  partId: string
  sectionId: string
}

const studentsOf = (count: number) => t('wall.students', { count })

/** What can be done with the cells that are chosen: send a drill, hear them, say what was heard. */
export function CellsBar({ choosing, cells, partId, sectionId }: Props) {
  const navigate = useNavigate()
  const maySend = useMay('send')
  const [isSending, setSending] = useState(false)
  const students = new Set(cells.map((one) => one.studentId)).size
  const chunks = new Set(cells.map((one) => one.chunkId)).size
  return (
    <section className="cells-bar" aria-label={t('wall.chosenCells')}>
      <Button
        aria-pressed={choosing.isOn}
        type={choosing.isOn ? 'primary' : 'default'}
        onClick={() => choosing.setOn(!choosing.isOn)}
      >
        {t('wall.chooseSeveralCells')}
      </Button>
      {cells.length === 0 ? (
        <span className="muted">
          {choosing.isOn ? t('wall.clickCellsToChooseThem') : t('wall.clickACellToOpenIts')}
        </span>
      ) : (
        <>
          <strong role="status">
            {t('wall.onOfStudentsChunks', {
              students: studentsOf(students),
              chunks: t('wall.chunksCount', { count: chunks }),
            })}
          </strong>
          {maySend && (
            <Button aria-expanded={isSending} onClick={() => setSending(!isSending)}>
              {t('wall.sendADrill')}
            </Button>
          )}
          <Button
            onClick={() => {
              keepHearingSelection({ partId, sectionId, cells })
              void navigate(`/hearing?part=${partId}&section=${sectionId}&chunk=${cells[0]?.chunkId ?? ''}`)
            }}
          >
            {t('wall.hearThem')}
          </Button>
          <Say partId={partId} cells={cells} />
          <Button type="text" onClick={choosing.clear}>
            {t('wall.clear')}
          </Button>
        </>
      )}
      {isSending && cells.length > 0 && <SendForm partId={partId} cells={cells} close={() => setSending(false)} />}
    </section>
  )
}

type Chosen = Pick<Props, 'partId' | 'cells'>

const asked = (cells: Props['cells']) => cells.map((one) => ({ student_id: one.studentId, chunk_id: one.chunkId }))

function Say({ partId, cells }: Chosen) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const cures = useQuery({ queryKey: keys.cures, queryFn: () => ask(listCures()), staleTime: Infinity })
  const once = useOnce()
  const say = useMutation({
    mutationFn: (words: string) => {
      const body = { cells: asked(cells), words }
      return once(body, (id) => ask(sayCells({ path: { part_id: partId }, body: { ...body, id } })))
    },
    onSuccess: ({ students }) => {
      for (const queryKey of [keys.evidence.all, keys.plans, keys.faults.all])
        void client.invalidateQueries({ queryKey })
      void message.success(t('wall.savedForTheirNextDrillsFollow', { students: studentsOf(students) }))
    },
    onError: (error) => void message.error(said(error)),
  })
  return (
    <Select
      aria-label={t('wall.whatYouHeard')}
      placeholder={t('wall.whatYouHeard2')}
      value={null}
      loading={say.isPending}
      showSearch={{ optionFilterProp: 'label' }}
      onChange={(key: string) => say.mutate(key)}
      options={(cures.data ?? []).map((cure) => ({ value: cure.key, label: cure.heard }))}
      style={{ minWidth: 190 }}
    />
  )
}

function SendForm({ partId, cells, close }: Chosen & { close: () => void }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const [wish, setWish] = useWish()
  const once = useOnce()
  const send = useMutation({
    mutationFn: () => {
      const body = { cells: asked(cells), ...wish }
      return once(body, (id) => ask(sendCells({ path: { part_id: partId }, body: { ...body, id } })))
    },
    onSuccess: (sent) => {
      void client.invalidateQueries({ queryKey: keys.assignments })
      const refused = sent.filter((one) => one.why_not)
      if (refused.length === 0) close()
      void message[refused.length === 0 ? 'success' : 'warning'](told(sent), refused.length === 0 ? 4 : 10)
    },
  })
  return (
    <div className="inline send-cells">
      <DrillWish wish={wish} change={setWish} />
      <Button type="primary" loading={send.isPending} disabled={wish.due_on === ''} onClick={() => send.mutate()}>
        {t('wall.send')}
      </Button>
      {send.isError && <span role="alert">{said(send.error)}</span>}
    </div>
  )
}

function told(sent: CellsSentOut[]): string {
  return sent
    .map(
      (one) =>
        `${one.chunks.map((label) => label.replace('→', '')).join(', ')}: ${one.why_not ? t('wall.notSent', { whyNot: one.why_not }) : t('wall.sentTo', { students: one.students })}`,
    )
    .join('; ')
}
