import { Button, Input, Popover, Select } from 'antd'
import { useState } from 'react'
import type { ChangeIn, PlanDayOut, PlanIn, PlanItemOut, PlanOut } from '../../api/gen'
import { useDrills } from '../../shared/hooks/part.queries'
import { day } from '../../shared/pure/time'
import { withChange, withoutChange } from './wish'
import { t } from '../../words/words'

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
          <section key={monday} className="week" aria-label={t('plan.weekOf', { monday: day(monday) })}>
            <h3>{t('plan.weekOf', { monday: day(monday) })}</h3>
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
      <strong>{day(date)}</strong>{' '}
      <small className="muted">{minutes === 0 ? t('plan.free') : t('plan.minOfMinutes', { minutes })}</small>
      {sittings.map((practiceDay) => (
        <ul
          key={practiceDay.session}
          aria-label={sittings.length > 1 ? t('plan.sessionOfSession', { session: practiceDay.session }) : undefined}
        >
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
              ? t('plan.warmUp')
              : item.category === 'run-through'
                ? t('plan.runThrough')
                : item.place.replace('→', '')}
          </span>
          {item.category !== 'warm-up' && item.category !== 'run-through' && <small>{item.drill_title}</small>}
          <small>{t('plan.minOfTemposMinutes', { tempos, minutes: item.minutes })}</small>
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
              {t('plan.keepOnThisDay')}
            </Button>
            <Button
              size="small"
              onClick={() => change(withChange(wish, { kind: 'drop', chunk_id: id, drill: item.drill }))}
            >
              {t('plan.anotherDrill')}
            </Button>
          </div>
          <Select
            aria-label={t('plan.swapTheDrillFor')}
            placeholder={t('plan.swapTheDrillFor2')}
            size="small"
            showSearch={{ optionFilterProp: 'label' }}
            style={{ width: '100%' }}
            options={(drills.data ?? []).map((drill) => ({ value: drill.name, label: drill.title }))}
            onChange={(drill: string) => change(withChange(wish, { kind: 'pin', chunk_id: id, day: date, drill }))}
          />
          <label className="inline">
            {t('plan.holdBackUntil')}
            <Input
              size="small"
              type="date"
              aria-label={t('plan.holdBackUntil')}
              value={later}
              onChange={(event) => setLater(event.target.value)}
            />
            <Button
              size="small"
              disabled={later === ''}
              onClick={() => change(withChange(wish, { kind: 'hold', chunk_id: id, day: later }))}
            >
              {t('plan.holdBack')}
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
  const label = (id: string) => plan.chunks.find((chunk) => chunk.id === id)?.label.replace('→', '') ?? t('plan.aChunk')
  const text = (one: ChangeIn) => {
    if (one.kind === 'drop') return t('plan.without', { chunkId: label(one.chunk_id), drill: one.drill ?? '' })
    if (one.kind === 'hold') return t('plan.notBefore', { chunkId: label(one.chunk_id), day: day(one.day ?? '') })
    return t('plan.on', {
      chunkId: label(one.chunk_id),
      day: day(one.day ?? ''),
      drill: one.drill ? `, “${one.drill}”` : '',
    })
  }
  return (
    <ul className="inline changes" aria-label={t('plan.changedByHand')}>
      {made.map((one, i) => (
        <li key={i}>
          <Button
            size="small"
            aria-label={t('plan.takeBack', { one: text(one) })}
            onClick={() => change(withoutChange(wish, one))}
          >
            {text(one)} ✕
          </Button>
        </li>
      ))}
    </ul>
  )
}
