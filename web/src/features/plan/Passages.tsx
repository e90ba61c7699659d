import { useMutation } from '@tanstack/react-query'
import { Button, InputNumber } from 'antd'
import { useState } from 'react'
import { ask } from '../../api/ask'
import { keepPassage, type PlanIn, type PlanPassageOut } from '../../api/gen'
import { PlaceInput } from '../../shared/ui/PlaceInput'
import { t } from '../../words/words'

interface Props {
  wish: PlanIn
  known: PlanPassageOut[]
  set: (part: Partial<PlanIn>) => void
}

/** The stretches a plan is for, each at a tempo of its own; with none it is for the whole part. */
export function Passages({ wish, known, set }: Props) {
  const [words, setWords] = useState('')
  const passages = wish.passages ?? []
  const keep = useMutation({
    mutationFn: () => ask(keepPassage({ path: { part_id: wish.part_id }, body: { words } })),
    onSuccess: (made) => {
      setWords('')
      if (!passages.some((one) => one.chunk_id === made.id))
        set({ passages: [...passages, { chunk_id: made.id, goal: null }] })
    },
  })
  const label = (id: string) => known.find((one) => one.chunk_id === id)?.label.replace('→', '') ?? '…'
  return (
    <div className="field passages" role="group" aria-label={t('plan.onlySomePassages')}>
      <span>{passages.length === 0 ? t('plan.forTheWholePartOrOnly') : t('plan.onlyFor')}</span>
      <div className="inline">
        {passages.map((one) => (
          <span key={one.chunk_id} className="passage">
            {label(one.chunk_id)}
            <InputNumber
              size="small"
              aria-label={t('plan.tempoOf', { chunkId: label(one.chunk_id) })}
              placeholder={t('plan.goalLower')}
              min={20}
              max={300}
              value={one.goal}
              onChange={(goal) =>
                set({ passages: passages.map((other) => (other === one ? { ...one, goal } : other)) })
              }
              style={{ width: 70 }}
            />
            <Button
              size="small"
              type="text"
              aria-label={t('plan.leaveOut', { chunkId: label(one.chunk_id) })}
              onClick={() => set({ passages: passages.filter((other) => other !== one) })}
            >
              ✕
            </Button>
          </span>
        ))}
        <PlaceInput
          size="small"
          aria-label={t('plan.addAPassage')}
          placeholder={t('plan.measures512')}
          words={words}
          setWords={(next) => {
            setWords(next)
            keep.reset()
          }}
          find={() => keep.mutate()}
          error={keep.error}
          style={{ width: 150 }}
        />
        <Button size="small" loading={keep.isPending} disabled={words.trim() === ''} onClick={() => keep.mutate()}>
          {t('plan.add')}
        </Button>
      </div>
    </div>
  )
}
