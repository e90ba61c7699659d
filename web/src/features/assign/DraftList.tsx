import { Button, Segmented, Select } from 'antd'
import { bpm, clock } from '../../shared/pure/time'
import type { DraftItem } from '../../shared/hooks/assignmentDraft'
import { t } from '../../words/words'

const OFTEN = [
  { value: 1, label: t('assign.everySession') },
  { value: 2, label: t('assign.every2ndSession') },
  { value: 3, label: t('assign.every3rdSession') },
  { value: 5, label: t('assign.every5thSession') },
]

interface ListProps {
  items: DraftItem[]
  remove: (key: string) => void
  replace: (items: DraftItem[]) => void
}

/** What is to be sent, in order; each can go up or out, and be focus or upkeep. */
export function DraftList({ items, remove, replace }: ListProps) {
  const earlier = (i: number) => {
    const next = [...items]
    const moved = next.splice(i, 1)
    next.splice(i - 1, 0, ...moved)
    replace(next)
  }
  return (
    <ol className="draft">
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
              aria-label={t('assign.is', { chunk: item.chunk, title: item.title })}
              options={[
                { value: 'focus', label: t('assign.focus') },
                { value: 'upkeep', label: t('assign.upkeep') },
              ]}
              value={item.role ?? 'focus'}
              onChange={(role) => replace(items.map((other) => (other.key === item.key ? { ...other, role } : other)))}
            />
            <Select<number>
              size="small"
              aria-label={t('assign.comes', { chunk: item.chunk, title: item.title })}
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
              aria-label={t('assign.earlierOfChunkTitle', { chunk: item.chunk, title: item.title })}
            >
              {t('assign.earlier')}
            </Button>
            <Button
              size="small"
              type="text"
              onClick={() => remove(item.key)}
              aria-label={t('assign.takeOutOfChunkTitle', { chunk: item.chunk, title: item.title })}
            >
              {t('assign.takeOut')}
            </Button>
          </span>
        </li>
      ))}
    </ol>
  )
}

function climbSaid({ start, goal, step }: DraftItem): string {
  return start === null || step === null
    ? t('assign.goal', { goal: bpm(goal) })
    : t('assign.toBy', { start: bpm(start), goal: bpm(goal), step: bpm(step) })
}
