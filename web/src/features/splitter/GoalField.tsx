import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, InputNumber } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { setGoal, type PartDetail } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'

/** The goal tempo of the part; levels follow it, those of a part that was played much within a minute. */
export function GoalField({ detail }: { detail: PartDetail }) {
  const client = useQueryClient()
  const { message } = App.useApp()
  const stored = detail.part.goal_bpm
  const [value, setValue] = useState<number | null>(stored)
  const save = useMutation({
    mutationFn: (goal: number) => ask(setGoal({ path: { part_id: detail.part.id }, body: { goal_bpm: goal } })),
    onSuccess: (next) => {
      client.setQueryData(keys.part.one(detail.part.id), next)
      void client.invalidateQueries({ queryKey: keys.part.survey(detail.part.id) })
      return client.invalidateQueries({ queryKey: keys.part.benches(detail.part.id) })
    },
    onError: (error) => {
      setValue(stored)
      void message.error(said(error))
    },
  })
  const commit = () => {
    // Enter saves, and the field that is off then loses the focus: that is no second act.
    if (value !== null && value !== stored && !save.isPending) save.mutate(value)
  }
  return (
    <label className="goal">
      {t('splitter.goalTempo')}
      <InputNumber
        min={20}
        max={300}
        value={value}
        onChange={setValue}
        onBlur={commit}
        onPressEnter={commit}
        disabled={save.isPending}
        style={{ width: 84 }}
      />
      <span className="muted" role="status">
        {save.isPending ? t('splitter.saving') : beatName(detail.beat)}
      </span>
    </label>
  )
}

const BEATS: Record<string, string> = {
  '1': t('splitter.quarters'),
  '3/2': t('splitter.dottedQuarters'),
  '2': t('splitter.halfNotes'),
  '1/2': t('splitter.eighths'),
  '3/4': t('splitter.dottedEighths'),
}

function beatName(beat: string): string {
  return t('splitter.aMinute', { beats: BEATS[beat] ?? t('splitter.beatsOfQuarterNotes', { beat }) })
}
