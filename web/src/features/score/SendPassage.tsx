import { useMutation } from '@tanstack/react-query'
import { Button, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { sendPassage, type ScoreOut } from '../../api/gen'
import { useDrills } from '../../shared/lib/part.queries'
import { inDays } from '../../shared/lib/time'

interface Props {
  score: ScoreOut
  place: number
  close: () => void
}

/** One drill on a passage for everybody who plays there, each in their own notation. */
export function SendPassage({ score, place, close }: Props) {
  const drills = useDrills()
  const passage = score.passages[place]
  const here = passage?.sections.map((section) => score.desks[section.desk]).filter((desk) => desk !== undefined) ?? []
  const [drill, setDrill] = useState('alone')
  const [due, setDue] = useState(inDays(7))
  const [minutes, setMinutes] = useState(15)
  const [only, setOnly] = useState<string[]>([])
  const send = useMutation({
    mutationFn: () => ask(sendPassage({ path: { piece_id: score.piece_id }, body: { place, drill, due_on: due, minutes_a_day: minutes, section_ids: only } })),
  })
  if (!passage) return null
  const open = here.filter((_, i) => (passage.sections[i]?.open ?? 0) > 0)
  return (
    <section className="send-passage" aria-label={`Send ${passage.name}`}>
      <h2>{passage.name} for all who play there</h2>
      <div className="rehearse-wish">
        <Select
          aria-label="Drill"
          showSearch={{ optionFilterProp: 'label' }}
          style={{ minWidth: 220 }}
          value={drill}
          onChange={setDrill}
          options={(drills.data ?? []).map((one) => ({ value: one.name, label: one.title }))}
        />
        <label>
          until <input type="date" aria-label="Due" value={due} min={inDays(1)} onChange={(event) => setDue(event.target.value)} />
        </label>
        <label>
          <InputNumber aria-label="Minutes a day" min={5} max={120} value={minutes} onChange={(next) => next !== null && setMinutes(next)} /> minutes a day
        </label>
        <Select
          mode="multiple"
          aria-label="Only these sections"
          placeholder={`All ${here.length} sections`}
          style={{ minWidth: 220 }}
          value={only}
          onChange={setOnly}
          options={[...new Map(here.map((desk) => [desk.section_id, { value: desk.section_id, label: desk.section }])).values()]}
        />
        {open.length < here.length && open.length > 0 && (
          <Button size="small" onClick={() => setOnly([...new Set(open.map((desk) => desk.section_id))])}>
            Only where it is open
          </Button>
        )}
        <Button type="primary" loading={send.isPending} disabled={due === '' || send.isSuccess} onClick={() => send.mutate()}>
          Send
        </Button>
        <Button type="text" onClick={close}>
          Close
        </Button>
      </div>
      {send.isError && <p role="alert">{said(send.error)}</p>}
      {send.data && (
        <ul role="status">
          {send.data.map((one, i) => (
            <li key={i}>
              {one.section}: {one.why_not ? `not sent. ${one.why_not}` : `sent to ${one.students}`}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
