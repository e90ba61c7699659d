import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { addMark, removeMark, restoreMark, type MarkOut, type PositionOut } from '../../api/gen'

const KINDS = [
  ['warning', 'Warning'],
  ['fingering', 'Fingering'],
  ['position', 'Position'],
  ['slide', 'Slide position'],
  ['alternate', 'Alternate fingering'],
  ['up-bow', 'Up-bow'],
  ['down-bow', 'Down-bow'],
  ['breath', 'Breath'],
  ['lean', 'Lean'],
  ['heart', 'Expressive'],
  ['accent', 'Accent'],
  ['words', 'Words'],
].map(([value = '', label = '']) => ({ value, label }))
const SAYS = ['warning', 'fingering', 'position', 'slide', 'alternate', 'lean', 'words', 'heart']

interface Props {
  partId: string
  marks: MarkOut[]
  at: PositionOut
  atLabel: string
  /** Whom a mark can be for, besides everybody or oneself. */
  audiences: { value: string; label: string }[]
  asLeader?: boolean
  labelOf: (place: PositionOut) => string
  goTo: (place: PositionOut) => void
  /** Queries that show the marks. */
  keys: readonly (readonly unknown[])[]
}

/** Write marks at the cursor, see them in a list, take them away and bring them back. */
export function MarkPanel({ partId, marks, at, atLabel, audiences, asLeader = false, labelOf, goTo, keys }: Props) {
  const [kind, setKind] = useState('warning')
  const [text, setText] = useState('')
  const [audience, setAudience] = useState('')
  const [gone, setGone] = useState<MarkOut | null>(null)
  const { message } = App.useApp()
  const client = useQueryClient()
  const refresh = () => Promise.all(keys.map((queryKey) => client.invalidateQueries({ queryKey })))
  const onError = (error: Error) => void message.warning(said(error))
  const add = useMutation({
    mutationFn: () =>
      ask(
        addMark({
          path: { part_id: partId },
          body: {
            kind,
            text: SAYS.includes(kind) ? text : '',
            at,
            as_leader: asLeader && audience === 'section',
            section_id: audience && audience !== 'section' ? audience : null,
          },
        }),
      ),
    onSuccess: () => {
      setText('')
      return refresh()
    },
    onError,
  })
  const remove = useMutation({
    mutationFn: (mark: MarkOut) => ask(removeMark({ path: { mark_id: mark.id } })),
    onSuccess: (_, mark) => {
      setGone(mark)
      return refresh()
    },
    onError,
  })
  const restore = useMutation({
    mutationFn: (mark: MarkOut) => ask(restoreMark({ path: { mark_id: mark.id } })),
    onSuccess: () => {
      setGone(null)
      return refresh()
    },
    onError,
  })
  return (
    <div className="panel">
      <label className="field">
        Mark
        <Select aria-label="Kind of mark" value={kind} options={KINDS} onChange={setKind} />
      </label>
      {SAYS.includes(kind) && (
        <Input
          aria-label="What the mark says"
          placeholder="What it says"
          maxLength={40}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      )}
      {audiences.length > 1 && (
        <label className="field">
          For
          <Select aria-label="Whom the mark is for" value={audience} options={audiences} onChange={setAudience} />
        </label>
      )}
      <Button type="primary" onClick={() => add.mutate()} loading={add.isPending}>
        Write at {atLabel}
      </Button>
      {gone && (
        <p role="status">
          {gone.name} is gone.{' '}
          <Button size="small" onClick={() => restore.mutate(gone)}>
            Bring it back
          </Button>
        </p>
      )}
      {marks.length === 0 && <p className="muted">Nothing is written in yet.</p>}
      <ul className="marks">
        {marks.map((mark) => (
          <li key={mark.id} className={`mark-${mark.layer}`}>
            <Button type="link" size="small" onClick={() => goTo(mark.at)}>
              {labelOf(mark.at)}
            </Button>
            <span>
              {mark.name}
              {mark.text && `: ${mark.text}`}
              {mark.layer === 'leader' && <small className="muted"> by the section leader</small>}
            </span>
            {mark.is_mine && (
              <Button
                type="text"
                size="small"
                aria-label={`Take away ${mark.name} in ${labelOf(mark.at)}`}
                onClick={() => remove.mutate(mark)}
              >
                ×
              </Button>
            )}
          </li>
        ))}
      </ul>
    </div>
  )
}
