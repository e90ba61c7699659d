import { Button, Segmented, Select } from 'antd'
import { bpm, clock } from '../../shared/lib/time'
import type { DraftItem } from '../../shared/lib/assignmentDraft'

const OFTEN = [
  { value: 1, label: 'every session' },
  { value: 2, label: 'every 2nd session' },
  { value: 3, label: 'every 3rd session' },
  { value: 5, label: 'every 5th session' },
]

interface ListProps {
  items: DraftItem[]
  remove: (key: string) => void
  replace: (items: DraftItem[]) => void
}

/** What is to be sent, in order; each can go up or out, and be focus or upkeep. */
export function TrayList({ items, remove, replace }: ListProps) {
  const earlier = (i: number) => {
    const next = [...items]
    const moved = next.splice(i, 1)
    next.splice(i - 1, 0, ...moved)
    replace(next)
  }
  return (
    <ol className="tray">
      {items.map((item, i) => (
        <li key={item.key}>
          <strong>{item.chunk}</strong> {item.title}
          <span className="muted">
            {' '}
            {climbSaid(item)}; {clock(item.climbSeconds)}
          </span>
          <span className="row-actions">
            <Segmented<NonNullable<DraftItem['role']>>
              size="small"
              aria-label={`${item.chunk} ${item.title} is`}
              options={[
                { value: 'focus', label: 'Focus' },
                { value: 'upkeep', label: 'Upkeep' },
              ]}
              value={item.role ?? 'focus'}
              onChange={(role) => replace(items.map((other) => (other.key === item.key ? { ...other, role } : other)))}
            />
            <Select<number>
              size="small"
              aria-label={`${item.chunk} ${item.title} comes`}
              value={item.every ?? 1}
              options={OFTEN}
              onChange={(every) =>
                replace(items.map((other) => (other.key === item.key ? { ...other, every } : other)))
              }
              style={{ width: 150 }}
            />
            <Button
              size="small"
              type="text"
              disabled={i === 0}
              onClick={() => earlier(i)}
              aria-label={`${item.chunk} ${item.title} earlier`}
            >
              Earlier
            </Button>
            <Button
              size="small"
              type="text"
              onClick={() => remove(item.key)}
              aria-label={`Take out ${item.chunk} ${item.title}`}
            >
              Take out
            </Button>
          </span>
        </li>
      ))}
    </ol>
  )
}

function climbSaid({ start, goal, step }: DraftItem): string {
  return start === null || step === null ? `goal ${bpm(goal)}` : `${bpm(start)} to ${bpm(goal)} by ${bpm(step)}`
}
