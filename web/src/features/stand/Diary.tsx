import { Button } from 'antd'
import { useState } from 'react'
import type { SyncQueue } from '../../practice/syncQueue'
import { write } from '../../shared/hooks/diary'
import { clock } from '../../shared/pure/time'
import { t } from '../../words/words'

interface Props {
  queue: SyncQueue
  itemId: string
  seconds: number
}

type Marks = Record<string, number | null>

/** For the diary: a tone experiment, and how long slow work held. */
export function DiaryLines({ queue, itemId, seconds }: Props) {
  const [marks, setMarks] = useState<Marks>({})
  const [kept, setKept] = useState('')
  const scale = (name: string, label: string) => (
    <label>
      {label}{' '}
      <select
        aria-label={label}
        value={marks[name] ?? ''}
        onChange={(event) =>
          setMarks({ ...marks, [name]: event.target.value === '' ? null : Number(event.target.value) })
        }
      >
        <option value="">–</option>
        {[1, 2, 3, 4, 5].map((mark) => (
          <option key={mark}>{mark}</option>
        ))}
      </select>
    </label>
  )
  const { before, after, loud, soft } = marks
  function done(what: string) {
    setMarks({})
    setKept(t('stand.isInYourDiaryYourTeacher', { what }))
  }
  return (
    <fieldset>
      <legend>{t('stand.forTheDiary')}</legend>
      <span className="inline">
        {t('stand.tone1To5')} {scale('before', t('stand.before'))} {scale('after', t('stand.afterAChange'))}
        <Button
          size="small"
          disabled={!before || !after}
          onClick={() => {
            if (before && after) write(queue, { kind: 'tone', before, after, what: '' }, itemId)
            done(t('stand.theTone'))
          }}
        >
          {t('stand.keep')}
        </Button>
      </span>
      <span className="inline">
        {t('stand.slowWorkHeldTension1Loose', { clock: clock(Math.max(Math.floor(seconds), 0)) })}{' '}
        {scale('loud', t('stand.loud'))} {scale('soft', t('stand.soft'))}
        <Button
          size="small"
          disabled={seconds < 1 || (!loud && !soft)}
          onClick={() => {
            write(
              queue,
              { kind: 'stamina', seconds: Math.max(Math.floor(seconds), 1), loud: loud ?? null, soft: soft ?? null },
              itemId,
            )
            done(t('stand.theStamina'))
          }}
        >
          {t('stand.keep')}
        </Button>
      </span>
      {kept && <p role="status">{kept}</p>}
    </fieldset>
  )
}
