import { Button, Checkbox, Input, InputNumber, Select } from 'antd'
import type { PartDetail, PlanIn, PlanPassageOut, SectionOut } from '../../api/gen'
import { bpm } from '../../shared/lib/time'
import { Passages } from './Passages'
import { RangeFields } from './RangeFields'

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const ORDERS = [
  { value: 'hardest', label: 'Hardest first' },
  { value: 'back', label: 'From the end' },
  { value: 'front', label: 'From the front' },
  { value: 'foundation', label: 'Foundation first' },
  { value: 'hand', label: 'As ordered by hand' },
]
const PLAYERS = [
  { value: 'beginner', label: 'Beginners' },
  { value: 'intermediate', label: 'Intermediate' },
  { value: 'advanced', label: 'Advanced' },
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
        <span>Section</span>
        <Select
          aria-label="Section"
          value={wish.section_id}
          disabled={isKept}
          showSearch={{ optionFilterProp: 'label' }}
          onChange={(id) => set({ section_id: id })}
          options={sections.map((s) => ({ value: s.id, label: `${s.name} (${s.students.length})` }))}
          style={{ minWidth: 180 }}
        />
      </label>
      <label className="field">
        <span>Ready by</span>
        <Input
          type="date"
          aria-label="Ready by"
          value={wish.on}
          onChange={(event) => event.target.value && set({ on: event.target.value })}
        />
      </label>
      <label className="field">
        <span>Minutes a day</span>
        <InputNumber
          aria-label="Minutes a day"
          min={5}
          max={120}
          value={wish.minutes_a_day ?? 20}
          onChange={(value) => value && set({ minutes_a_day: value })}
        />
      </label>
      <label className="field">
        <span>of them warm-up</span>
        <InputNumber
          aria-label="Warm-up minutes"
          min={0}
          max={15}
          value={wish.warm_up_minutes ?? 4}
          onChange={(value) => set({ warm_up_minutes: value ?? 0 })}
        />
      </label>
      <label className="field">
        <span>Sessions a day</span>
        <InputNumber
          aria-label="Sessions a day"
          min={1}
          max={3}
          value={wish.sessions_a_day ?? 1}
          onChange={(value) => value && set({ sessions_a_day: value })}
        />
      </label>
      <label className="field">
        <span>Order</span>
        <Select
          aria-label="Order"
          value={wish.order ?? 'hardest'}
          onChange={(order) => set({ order })}
          options={ORDERS}
          style={{ minWidth: 170 }}
        />
      </label>
      <label className="field">
        <span>Players</span>
        <Select
          aria-label="Players"
          value={wish.player ?? 'intermediate'}
          onChange={(player) => set({ player })}
          options={PLAYERS}
          style={{ minWidth: 140 }}
        />
      </label>
      <div className="field" role="group" aria-label="Days off in the week">
        <span>Days off</span>
        <Checkbox.Group
          value={wish.weekdays_off ?? []}
          onChange={(days) => set({ weekdays_off: days })}
          options={WEEKDAYS.map((label, value) => ({ label, value }))}
        />
      </div>
      <label className="field">
        <span>No practice on</span>
        <Input
          type="date"
          aria-label="A day without practice"
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
          aria-label={`Practice on ${date} after all`}
          onClick={() => set({ days_off: off.filter((d) => d !== date) })}
        >
          {date} ✕
        </Button>
      ))}
      <label className="field">
        <span>Weekly rhythm</span>
        <Select
          aria-label="Weekly rhythm"
          value={wish.due_weekday ?? -1}
          onChange={(weekday) => set({ due_weekday: weekday < 0 ? null : weekday })}
          options={[{ value: -1, label: 'none' }, ...WEEKDAYS.map((name, value) => ({ value, label: `due ${name}` }))]}
          style={{ minWidth: 110 }}
        />
      </label>
      <Checkbox
        className="shares"
        checked={wish.shares ?? false}
        onChange={(event) => set({ shares: event.target.checked })}
      >
        Minutes are shared with the section’s other plans that share
      </Checkbox>
      <RangeFields detail={detail} />
      <Passages wish={wish} known={passages} set={set} />
      {wish.goal != null && (
        <Button size="small" onClick={() => set({ goal: null })}>
          Goal {wish.goal} for now ✕ (back to {bpm(detail.part.goal_bpm)})
        </Button>
      )}
      {(wish.left ?? []).length > 0 && (
        <Button size="small" onClick={() => set({ left: [] })}>
          {(wish.left ?? []).length} chunks left as they are ✕
        </Button>
      )}
    </div>
  )
}
