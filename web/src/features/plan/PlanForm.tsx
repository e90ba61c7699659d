import { Button, Checkbox, Input, InputNumber, Select } from 'antd'
import type { PartDetail, PlanIn, PlanPassageOut, SectionOut } from '../../api/gen'
import { bpm } from '../../shared/pure/time'
import { Passages } from './Passages'
import { RangeFields } from './RangeFields'
import { t } from '../../words/words'

const WEEKDAYS = [
  t('plan.mon'),
  t('plan.tue'),
  t('plan.wed'),
  t('plan.thu'),
  t('plan.fri'),
  t('plan.sat'),
  t('plan.sun'),
]
const ORDERS = [
  { value: 'hardest', label: t('plan.hardestFirst') },
  { value: 'back', label: t('plan.fromTheEnd') },
  { value: 'front', label: t('plan.fromTheFront') },
  { value: 'foundation', label: t('plan.foundationFirst') },
  { value: 'hand', label: t('plan.yourOwnOrder') },
]
const PLAYERS = [
  { value: 'beginner', label: t('plan.beginners') },
  { value: 'intermediate', label: t('plan.intermediate') },
  { value: 'advanced', label: t('plan.advanced') },
]

interface Props {
  wish: PlanIn
  change: (wish: PlanIn) => void
  sections: SectionOut[]
  isKept: boolean
  detail: PartDetail
  passages: PlanPassageOut[]
}

export function PlanForm({ wish, change, sections, isKept, detail, passages }: Props) {
  const set = (part: Partial<PlanIn>) => change({ ...wish, ...part })
  const off = wish.days_off ?? []
  return (
    <div className="assign-fields plan-fields">
      <label className="field">
        <span>{t('plan.section')}</span>
        <Select
          aria-label={t('plan.section')}
          value={wish.section_id}
          disabled={isKept}
          showSearch={{ optionFilterProp: 'label' }}
          onChange={(id) => set({ section_id: id })}
          options={sections.map((s) => ({ value: s.id, label: `${s.name} (${s.students.length})` }))}
          style={{ minWidth: 180 }}
        />
      </label>
      <label className="field">
        <span>{t('plan.readyBy')}</span>
        <Input
          type="date"
          aria-label={t('plan.readyBy')}
          value={wish.on}
          onChange={(event) => event.target.value && set({ on: event.target.value })}
        />
      </label>
      <label className="field">
        <span>{t('plan.minutesADay')}</span>
        <InputNumber
          aria-label={t('plan.minutesADay')}
          min={5}
          max={120}
          value={wish.minutes_a_day ?? 20}
          onChange={(value) => value && set({ minutes_a_day: value })}
        />
      </label>
      <label className="field">
        <span>{t('plan.ofThemWarmUp')}</span>
        <InputNumber
          aria-label={t('plan.warmUpMinutes')}
          min={0}
          max={15}
          value={wish.warm_up_minutes ?? 4}
          onChange={(value) => set({ warm_up_minutes: value ?? 0 })}
        />
      </label>
      <label className="field">
        <span>{t('plan.sessionsADay')}</span>
        <InputNumber
          aria-label={t('plan.sessionsADay')}
          min={1}
          max={3}
          value={wish.sessions_a_day ?? 1}
          onChange={(value) => value && set({ sessions_a_day: value })}
        />
      </label>
      <label className="field">
        <span>{t('plan.order')}</span>
        <Select
          aria-label={t('plan.order')}
          value={wish.order ?? 'hardest'}
          onChange={(order) => set({ order })}
          options={ORDERS}
          style={{ minWidth: 170 }}
        />
      </label>
      <label className="field">
        <span>{t('plan.players')}</span>
        <Select
          aria-label={t('plan.players')}
          value={wish.player ?? 'intermediate'}
          onChange={(player) => set({ player })}
          options={PLAYERS}
          style={{ minWidth: 140 }}
        />
      </label>
      <div className="field" role="group" aria-label={t('plan.daysOffInTheWeek')}>
        <span>{t('plan.daysOff')}</span>
        <Checkbox.Group
          value={wish.weekdays_off ?? []}
          onChange={(days) => set({ weekdays_off: days })}
          options={WEEKDAYS.map((label, value) => ({ label, value }))}
        />
      </div>
      <label className="field">
        <span>{t('plan.noPracticeOn')}</span>
        <Input
          type="date"
          aria-label={t('plan.aDayWithoutPractice')}
          value=""
          onChange={(event) =>
            event.target.value && set({ days_off: [...new Set([...off, event.target.value])].sort() })
          }
        />
      </label>
      {off.map((date) => (
        <Button
          key={date}
          size="small"
          aria-label={t('plan.practiceOnAfterAll', { date })}
          onClick={() => set({ days_off: off.filter((d) => d !== date) })}
        >
          {date} ✕
        </Button>
      ))}
      <label className="field">
        <span>{t('plan.weeklyRhythm')}</span>
        <Select
          aria-label={t('plan.weeklyRhythm')}
          value={wish.due_weekday ?? -1}
          onChange={(weekday) => set({ due_weekday: weekday < 0 ? null : weekday })}
          options={[
            { value: -1, label: t('plan.none') },
            ...WEEKDAYS.map((name, value) => ({ value, label: t('plan.dueOfName', { name }) })),
          ]}
          style={{ minWidth: 110 }}
        />
      </label>
      <Checkbox
        className="shares"
        checked={wish.shares ?? false}
        onChange={(event) => set({ shares: event.target.checked })}
      >
        {t('plan.shareTheMinutesWithTheSections')}
      </Checkbox>
      <RangeFields detail={detail} />
      <Passages wish={wish} known={passages} set={set} />
      {wish.goal != null && (
        <Button size="small" onClick={() => set({ goal: null })}>
          {t('plan.goalForNowBackTo', { goal: wish.goal, goalBpm: bpm(detail.part.goal_bpm) })}
        </Button>
      )}
      {(wish.left ?? []).length > 0 && (
        <Button size="small" onClick={() => set({ left: [] })}>
          {t('plan.chunksLeftAsTheyAre', { length: (wish.left ?? []).length })}
        </Button>
      )}
    </div>
  )
}
