import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, InputNumber } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { setRange, type PartDetail } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'

/** The slowest tempo it can be performed at, and that of its best day: both may be left open. */
export function RangeFields({ detail }: { detail: PartDetail }) {
  const client = useQueryClient()
  const { message } = App.useApp()
  const stored = { floor: detail.part.floor_bpm, festival: detail.part.festival_bpm }
  const [draft, setDraft] = useState<Partial<typeof stored>>({})
  const value = { ...stored, ...draft }
  const save = useMutation({
    mutationFn: () =>
      ask(
        setRange({ path: { part_id: detail.part.id }, body: { floor_bpm: value.floor, festival_bpm: value.festival } }),
      ),
    onSuccess: (next) => {
      client.setQueryData(keys.part.one(detail.part.id), next)
      return client.invalidateQueries({ queryKey: keys.planPreview.all })
    },
    onError: (error) => void message.error(said(error)),
    onSettled: () => setDraft({}),
  })
  const commit = () => {
    if (value.floor !== stored.floor || value.festival !== stored.festival) save.mutate()
  }
  return (
    <>
      {(['floor', 'festival'] as const).map((name) => (
        <label key={name} className="field">
          <span>{name === 'floor' ? t('plan.floorTempo') : t('plan.festivalTempo')}</span>
          <InputNumber
            min={20}
            max={300}
            aria-label={name === 'floor' ? t('plan.floorTempo') : t('plan.festivalTempo')}
            placeholder="–"
            value={value[name]}
            onChange={(next) => setDraft({ ...draft, [name]: next })}
            onBlur={commit}
            onPressEnter={commit}
            disabled={save.isPending}
            style={{ width: 90 }}
          />
        </label>
      ))}
    </>
  )
}
