import { Button, Input, Popover, Select } from 'antd'
import { useState } from 'react'
import type { ChangeIn, PlanDayOut, PlanIn, PlanItemOut, PlanOut } from '../../api/gen'
import { useDrills } from '../../shared/lib/part.queries'
import { day } from '../../shared/lib/time'
import { withChange, withoutChange } from './wish'

interface Props {
  plan: PlanOut
  wish: PlanIn
  change: (wish: PlanIn) => void
}

/** A student's days as weeks, Monday first; each item opens with its reason and what can be changed. */
export function Calendar({ plan, wish, change }: Props) {
  const weeks = byWeek(plan.days)
  return (
    <>
      <Changes plan={plan} wish={wish} change={change} />
      <div className="calendar-scroll">
        {weeks.map(({ monday, days }) => (
          <section key={monday} className="week" aria-label={`Week of ${day(monday)}`}>
            <h3>Week of {day(monday)}</h3>
            <ol>
              {days.map((sittings) => (
                <Day key={sittings[0]?.day} sittings={sittings} wish={wish} change={change} />
              ))}
            </ol>
          </section>
        ))}
      </div>
    </>
  )
}

function byWeek(sittings: PlanDayOut[]): { monday: string; days: PlanDayOut[][] }[] {
  const weeks = new Map<string, Map<string, PlanDayOut[]>>()
  for (const practiceDay of sittings) {
    const monday = mondayOf(practiceDay.day)
    const days = weeks.get(monday) ?? new Map<string, PlanDayOut[]>()
    days.set(practiceDay.day, [...(days.get(practiceDay.day) ?? []), practiceDay])
    weeks.set(monday, days)
  }
  return [...weeks].map(([monday, days]) => ({ monday, days: [...days.values()] }))
}

function mondayOf(date: string): string {
  const at = new Date(`${date}T12:00:00Z`)
  at.setUTCDate(at.getUTCDate() - ((at.getUTCDay() + 6) % 7))
  return at.toISOString().slice(0, 10)
}

function Day({ sittings, wish, change }: { sittings: PlanDayOut[] } & Omit<Props, 'plan'>) {
  const date = sittings[0]?.day ?? ''
  const items = sittings.flatMap((practiceDay) => practiceDay.items)
  const minutes = items.reduce((sum, item) => sum + item.minutes, 0)
  return (
    <li className="plan-day">
      <strong>{day(date)}</strong> <small className="muted">{minutes === 0 ? 'free' : `${minutes} min`}</small>
      {sittings.map((practiceDay) => (
        <ul key={practiceDay.session} aria-label={sittings.length > 1 ? `Session ${practiceDay.session}` : undefined}>
          {practiceDay.items.map((item, i) => (
            <Item key={i} item={item} date={date} wish={wish} change={change} />
          ))}
        </ul>
      ))}
    </li>
  )
}

function Item({ item, date, wish, change }: { item: PlanItemOut; date: string } & Omit<Props, 'plan'>) {
  const tempos = item.from_bpm === item.to_bpm ? String(item.from_bpm) : `${item.from_bpm}–${item.to_bpm}`
  return (
    <li>
      <Popover
        trigger="click"
        title={`${item.place.replace('→', '')}: ${item.drill_title}`}
        content={<About item={item} date={date} wish={wish} change={change} />}
      >
        <button type="button" className={`plan-item ${item.category}`}>
          <span>
            {item.category === 'warm-up'
              ? 'Warm-up'
              : item.category === 'run-through'
                ? 'Run through'
                : item.place.replace('→', '')}
          </span>
          {item.category !== 'warm-up' && item.category !== 'run-through' && <small>{item.drill_title}</small>}
          <small>
            {tempos}, {item.minutes} min
          </small>
        </button>
      </Popover>
    </li>
  )
}

/** Why it is there, and what a director can do about it. */
function About({ item, date, wish, change }: { item: PlanItemOut; date: string } & Omit<Props, 'plan'>) {
  const drills = useDrills()
  const [later, setLater] = useState('')
  const id = item.chunk_id
  return (
    <div className="plan-about">
      <p>{item.why}</p>
      {id && item.category === 'focus' && (
        <>
          <div className="inline">
            <Button size="small" onClick={() => change(withChange(wish, { kind: 'pin', chunk_id: id, day: date }))}>
              Keep on this day
            </Button>
            <Button
              size="small"
              onClick={() => change(withChange(wish, { kind: 'drop', chunk_id: id, drill: item.drill }))}
            >
              Another drill
            </Button>
          </div>
          <Select
            aria-label="Swap the drill for"
            placeholder="Swap the drill for …"
            size="small"
            showSearch={{ optionFilterProp: 'label' }}
            style={{ width: '100%' }}
            options={(drills.data ?? []).map((drill) => ({ value: drill.name, label: drill.title }))}
            onChange={(drill: string) => change(withChange(wish, { kind: 'pin', chunk_id: id, day: date, drill }))}
          />
          <label className="inline">
            Hold back until
            <Input
              size="small"
              type="date"
              aria-label="Hold back until"
              value={later}
              onChange={(event) => setLater(event.target.value)}
            />
            <Button
              size="small"
              disabled={later === ''}
              onClick={() => change(withChange(wish, { kind: 'hold', chunk_id: id, day: later }))}
            >
              Hold
            </Button>
          </label>
        </>
      )}
    </div>
  )
}

/** What was changed by hand, each with a way back. */
function Changes({ plan, wish, change }: Props) {
  const made = wish.changes ?? []
  if (made.length === 0) return null
  const label = (id: string) => plan.chunks.find((chunk) => chunk.id === id)?.label.replace('→', '') ?? 'a chunk'
  const text = (one: ChangeIn) => {
    if (one.kind === 'drop') return `${label(one.chunk_id)} without “${one.drill ?? ''}”`
    if (one.kind === 'hold') return `${label(one.chunk_id)} not before ${day(one.day ?? '')}`
    return `${label(one.chunk_id)} on ${day(one.day ?? '')}${one.drill ? `, “${one.drill}”` : ''}`
  }
  return (
    <ul className="inline changes" aria-label="Changed by hand">
      {made.map((one, i) => (
        <li key={i}>
          <Button size="small" aria-label={`Take back: ${text(one)}`} onClick={() => change(withoutChange(wish, one))}>
            {text(one)} ✕
          </Button>
        </li>
      ))}
    </ul>
  )
}
