import { InputNumber, Select } from 'antd'
import { useState } from 'react'
import { useDrills } from '../hooks/part.queries'
import { inDays } from '../pure/time'
import { t } from '../../words/words'

export interface Wish {
  drill: string
  due_on: string
  minutes_a_day: number
}

/** What is sent in one act, until when, for how many minutes a day: a week of the chunk alone to begin with. */
export function useWish() {
  return useState<Wish>({ drill: 'alone', due_on: inDays(7), minutes_a_day: 15 })
}

export function DrillWish({ wish, change }: { wish: Wish; change: (wish: Wish) => void }) {
  const drills = useDrills()
  return (
    <>
      <Select
        aria-label={t('shared.drill')}
        showSearch={{ optionFilterProp: 'label' }}
        style={{ minWidth: 220 }}
        value={wish.drill}
        onChange={(drill) => change({ ...wish, drill })}
        options={(drills.data ?? []).map((one) => ({ value: one.name, label: one.title }))}
      />
      <label>
        {t('shared.until')}{' '}
        <input
          type="date"
          aria-label={t('shared.due')}
          value={wish.due_on}
          min={inDays(1)}
          onChange={(event) => change({ ...wish, due_on: event.target.value })}
        />
      </label>
      <label>
        <InputNumber
          aria-label={t('shared.minutesADay')}
          min={5}
          max={120}
          value={wish.minutes_a_day}
          onChange={(next) => next !== null && change({ ...wish, minutes_a_day: next })}
        />{' '}
        {t('shared.minutesADayLower')}
      </label>
    </>
  )
}
