import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, Button, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { askForTakes, type SectionOut, type TaskIn, type WishedTakeIn } from '../../api/gen'
import { keys } from '../../api/keys'
import { useOnce } from '../../shared/hooks/once'
import { useChunks } from '../../shared/hooks/part.queries'
import { day, inDays } from '../../shared/pure/time'
import { t } from '../../words/words'

const WHOLE = 'whole'
const MOST_THINGS = 8
const MOST_CHOICES = 4

interface Props {
  parts: { value: string; label: string }[]
  section: SectionOut
  first: WishedTakeIn
  close: () => void
}

/** What a section is to hand in: so many takes, and of each any one of some passages. */
export function AskForTakes({ parts, section, first, close }: Props) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const [dueOn, setDueOn] = useState(inDays(7))
  const [things, setThings] = useState<WishedTakeIn[][]>([[first]])
  const once = useOnce()
  const send = useMutation({
    mutationFn: () => {
      const body: TaskIn = { section_id: section.id, due_on: dueOn, wanted: things }
      return once(body, (id) => ask(askForTakes({ body: { ...body, id } })))
    },
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: keys.takes.tasks })
      void message.success(
        t('hearing.willHandInTakesBy', { count: things.length, name: section.name, dueOn: day(dueOn) }),
      )
      close()
    },
  })
  const change = (at: number, next: WishedTakeIn[]) =>
    setThings(next.length === 0 ? things.filter((_, i) => i !== at) : things.map((one, i) => (i === at ? next : one)))
  return (
    <form
      className="ask-for-takes"
      onSubmit={(event) => {
        event.preventDefault()
        send.mutate()
      }}
    >
      <p className="muted">{t('hearing.everybodyInWhoHasThisMusic', { name: section.name })}</p>
      <ol>
        {things.map((choices, i) => (
          <li key={i}>
            {choices.map((choice, j) => (
              <Choice
                key={j}
                name={
                  things.length > 1 || choices.length > 1 ? ` ${i + 1}${choices.length > 1 ? `.${j + 1}` : ''}` : ''
                }
                isOther={j > 0}
                parts={parts}
                sectionId={section.id}
                choice={choice}
                change={(next) =>
                  change(
                    i,
                    choices.map((one, k) => (k === j ? next : one)),
                  )
                }
                drop={
                  things.length > 1 || choices.length > 1
                    ? () =>
                        change(
                          i,
                          choices.filter((_, k) => k !== j),
                        )
                    : null
                }
              />
            ))}
            {choices.length < MOST_CHOICES && (
              <Button
                size="small"
                type="text"
                onClick={() =>
                  change(i, [
                    ...choices,
                    { part_id: choices[0]?.part_id ?? first.part_id, chunk_id: null, least_seconds: null },
                  ])
                }
              >
                {t('hearing.orAChoiceOfPassages')}
              </Button>
            )}
          </li>
        ))}
      </ol>
      <div className="inline">
        {things.length < MOST_THINGS && (
          <Button
            onClick={() => setThings([...things, [{ part_id: first.part_id, chunk_id: null, least_seconds: null }]])}
          >
            {t('hearing.addAnotherTake')}
          </Button>
        )}
        <label>
          {t('hearing.byLower')}{' '}
          <input
            type="date"
            aria-label={t('hearing.dueDate')}
            value={dueOn}
            min={inDays(0)}
            onChange={(event) => setDueOn(event.target.value)}
          />
        </label>
        <Button type="primary" htmlType="submit" loading={send.isPending} disabled={dueOn === ''}>
          {t('hearing.ask', { name: section.name })}
        </Button>
      </div>
      {send.isError && <p role="alert">{said(send.error)}</p>}
    </form>
  )
}

interface ChoiceProps {
  name: string
  isOther: boolean
  parts: { value: string; label: string }[]
  sectionId: string
  choice: WishedTakeIn
  change: (next: WishedTakeIn) => void
  drop: (() => void) | null
}

function Choice({ name, isOther, parts, sectionId, choice, change, drop }: ChoiceProps) {
  const map = useChunks(choice.part_id, sectionId)
  const chunks = (map.data?.chunks ?? []).map((one) => ({ value: one.id, label: one.label.replace('→', '') }))
  return (
    <div className="inline">
      {isOther && <em>{t('hearing.or')}</em>}
      <Select
        aria-label={t('hearing.pieceToHandIn', { name })}
        getPopupContainer={(field: HTMLElement) => field.parentElement ?? document.body}
        style={{ minWidth: 220 }}
        showSearch={{ optionFilterProp: 'label' }}
        value={choice.part_id}
        options={parts}
        onChange={(part_id) => change({ ...choice, part_id, chunk_id: null })}
      />
      <Select
        aria-label={t('hearing.passageToHandIn', { name })}
        getPopupContainer={(field: HTMLElement) => field.parentElement ?? document.body}
        style={{ minWidth: 130 }}
        showSearch={{ optionFilterProp: 'label' }}
        value={choice.chunk_id ?? WHOLE}
        options={[{ value: WHOLE, label: t('hearing.runThrough') }, ...chunks]}
        onChange={(id) => change({ ...choice, chunk_id: id === WHOLE ? null : id })}
      />
      <label>
        <InputNumber
          aria-label={t('hearing.shortestLengthInSeconds', { name })}
          min={1}
          max={600}
          placeholder={t('hearing.onceThrough')}
          style={{ width: '7.5rem' }}
          value={choice.least_seconds ?? null}
          onChange={(next) => change({ ...choice, least_seconds: next })}
        />{' '}
        {t('hearing.secondsOrMore')}
      </label>
      {drop && (
        <Button size="small" type="text" aria-label={t('hearing.drop', { name })} onClick={drop}>
          ×
        </Button>
      )}
    </div>
  )
}
