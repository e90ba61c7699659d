import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { addMark, removeMark, restoreMark, type MarkOut, type PositionOut } from '../../api/gen'
import { t } from '../../words/words'

const KINDS = [
  ['warning', t('shared.warning')],
  ['fingering', t('shared.fingering')],
  ['position', t('shared.position')],
  ['slide', t('shared.slidePosition')],
  ['alternate', t('shared.alternateFingering')],
  ['up-bow', t('shared.upBow')],
  ['down-bow', t('shared.downBow')],
  ['breath', t('shared.breath')],
  ['lean', t('shared.lean')],
  ['heart', t('shared.expressive')],
  ['accent', t('shared.accent')],
  ['words', t('shared.words')],
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
        {t('shared.mark')}
        <Select aria-label={t('shared.kindOfMark')} value={kind} options={KINDS} onChange={setKind} />
      </label>
      {SAYS.includes(kind) && (
        <Input
          aria-label={t('shared.textOfTheMark2')}
          placeholder={t('shared.textOfTheMark')}
          maxLength={40}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      )}
      {audiences.length > 1 && (
        <label className="field">
          {t('shared.for')}
          <Select aria-label={t('shared.whoSeesTheMark')} value={audience} options={audiences} onChange={setAudience} />
        </label>
      )}
      <Button type="primary" onClick={() => add.mutate()} loading={add.isPending}>
        {t('shared.writeAt', { atLabel })}
      </Button>
      {gone && (
        <p role="status">
          {t('shared.isRemoved', { name: gone.name })}{' '}
          <Button size="small" onClick={() => restore.mutate(gone)}>
            {t('shared.bringItBack')}
          </Button>
        </p>
      )}
      {marks.length === 0 && <p className="muted">{t('shared.noMarksYet')}</p>}
      <ul className="marks">
        {marks.map((mark) => (
          <li key={mark.id} className={`mark-${mark.layer}`}>
            <Button type="link" size="small" onClick={() => goTo(mark.at)}>
              {labelOf(mark.at)}
            </Button>
            <span>
              {mark.name}
              {mark.text && `: ${mark.text}`}
              {mark.layer === 'leader' && <small className="muted"> {t('shared.byTheSectionLeader')}</small>}
            </span>
            {mark.is_mine && (
              <Button
                type="text"
                size="small"
                aria-label={t('shared.removeIn', { name: mark.name, at: labelOf(mark.at) })}
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
