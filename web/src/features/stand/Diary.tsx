import { Button } from 'antd'
import { useState } from 'react'
import type { SyncQueue } from '../../practice/syncQueue'
import { write } from '../../shared/lib/diary'
import { clock } from '../../shared/lib/time'

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
    setKept(`${what} is in your diary; your teacher can read it.`)
  }
  return (
    <fieldset>
      <legend>For the diary</legend>
      <span className="inline">
        Tone, 1 to 5: {scale('before', 'before')} {scale('after', 'after a change')}
        <Button
          size="small"
          disabled={!before || !after}
          onClick={() => {
            if (before && after) write(queue, { kind: 'tone', before, after, what: '' }, itemId)
            done('The tone')
          }}
        >
          Keep
        </Button>
      </span>
      <span className="inline">
        Slow work held {clock(Math.max(Math.floor(seconds), 0))}; tension, 1 loose to 5: {scale('loud', 'loud')}{' '}
        {scale('soft', 'soft')}
        <Button
          size="small"
          disabled={seconds < 1 || (!loud && !soft)}
          onClick={() => {
            write(
              queue,
              { kind: 'stamina', seconds: Math.max(Math.floor(seconds), 1), loud: loud ?? null, soft: soft ?? null },
              itemId,
            )
            done('The stamina')
          }}
        >
          Keep
        </Button>
      </span>
      {kept && <p role="status">{kept}</p>}
    </fieldset>
  )
}
