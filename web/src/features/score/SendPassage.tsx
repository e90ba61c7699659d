import { useMutation } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { sendPassage, type ScoreOut } from '../../api/gen'
import { useOnce } from '../../shared/hooks/once'
import { DrillWish, useWish } from '../../shared/ui/DrillWish'
import { t } from '../../words/words'

interface Props {
  score: ScoreOut
  place: number
  close: () => void
}

/** One drill on a passage for everybody who plays there, each in their own notation. */
export function SendPassage({ score, place, close }: Props) {
  const passage = score.passages[place]
  const here = passage?.sections.map((section) => score.desks[section.desk]).filter((desk) => desk !== undefined) ?? []
  const [wish, setWish] = useWish()
  const [only, setOnly] = useState<string[]>([])
  const once = useOnce()
  const send = useMutation({
    mutationFn: () => {
      const body = { place, ...wish, section_ids: only }
      return once(body, (id) => ask(sendPassage({ path: { piece_id: score.piece_id }, body: { ...body, id } })))
    },
  })
  if (!passage) return null
  const open = here.filter((_, i) => (passage.sections[i]?.open ?? 0) > 0)
  return (
    <section className="send-passage" aria-label={t('score.sendOfName', { name: passage.name })}>
      <h2>{t('score.forAllWhoPlayThere', { name: passage.name })}</h2>
      <div className="rehearse-wish">
        <DrillWish wish={wish} change={setWish} />
        <Select
          mode="multiple"
          aria-label={t('score.onlyTheseSections')}
          placeholder={t('score.allSections', { hereCount: here.length })}
          style={{ minWidth: 220 }}
          value={only}
          onChange={setOnly}
          options={[
            ...new Map(here.map((desk) => [desk.section_id, { value: desk.section_id, label: desk.section }])).values(),
          ]}
        />
        {open.length < here.length && open.length > 0 && (
          <Button size="small" onClick={() => setOnly([...new Set(open.map((desk) => desk.section_id))])}>
            {t('score.onlyWhereItIsOpen')}
          </Button>
        )}
        <Button
          type="primary"
          loading={send.isPending}
          disabled={wish.due_on === '' || send.isSuccess}
          onClick={() => send.mutate()}
        >
          {t('score.send')}
        </Button>
        <Button type="text" onClick={close}>
          {t('score.close')}
        </Button>
      </div>
      {send.isError && <p role="alert">{said(send.error)}</p>}
      {send.data && (
        <ul role="status">
          {send.data.map((one, i) => (
            <li key={i}>
              {one.section}:{' '}
              {one.why_not
                ? t('score.notSent', { whyNot: one.why_not })
                : t('score.sentTo', { students: one.students })}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
