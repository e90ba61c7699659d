import { Button, Segmented } from 'antd'
import { bpm, clock } from '../../shared/lib/time'
import type { TrayItem } from '../../shared/lib/tray'

interface ListProps {
  items: TrayItem[]
  remove: (key: string) => void
  replace: (items: TrayItem[]) => void
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
            <Segmented<NonNullable<TrayItem['role']>>
              size="small"
              aria-label={`${item.chunk} ${item.title} is`}
              options={[
                { value: 'focus', label: 'Focus' },
                { value: 'upkeep', label: 'Upkeep' },
              ]}
              value={item.role ?? 'focus'}
              onChange={(role) => replace(items.map((other) => (other.key === item.key ? { ...other, role } : other)))}
            />
            <Button size="small" type="text" disabled={i === 0} onClick={() => earlier(i)} aria-label={`${item.chunk} ${item.title} earlier`}>
              Earlier
            </Button>
            <Button size="small" type="text" onClick={() => remove(item.key)} aria-label={`Take out ${item.chunk} ${item.title}`}>
              Take out
            </Button>
          </span>
        </li>
      ))}
    </ol>
  )
}

function climbSaid({ start, goal, step }: TrayItem): string {
  return start === null || step === null ? `goal ${bpm(goal)}` : `${bpm(start)} to ${bpm(goal)} by ${bpm(step)}`
}
