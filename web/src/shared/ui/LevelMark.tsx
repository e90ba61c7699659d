/** A level as a shape that fills up, its number, and a colour: readable in grey print too. */
export const LEVEL_NAMES: Record<number, string> = {
  0: 'new',
  1: 'notes',
  2: 'rhythm',
  3: 'steady',
  4: 'linked',
  5: 'at tempo',
  6: 'kept',
}

interface Props {
  level: number
  size?: number
  hasNumber?: boolean
}

export function LevelMark({ level, size = 22, hasNumber = true }: Props) {
  return (
    <span className={`level level-${level}`}>
      <svg width={size} height={size} viewBox="0 0 24 24" aria-hidden="true">
        <LevelShape level={level} />
      </svg>
      {hasNumber && <span className="level-number">{level}</span>}
      <span className="visually-hidden">{LEVEL_NAMES[level] ?? ''}</span>
    </span>
  )
}

/** Only the shape, to be drawn into a box of 24 by 24. */
export function LevelShape({ level }: { level: number }) {
  const line = { stroke: 'currentColor', strokeWidth: 2, fill: 'none' }
  if (level === 0) return <circle cx="12" cy="12" r="4" {...line} strokeDasharray="3 2.3" />
  if (level === 1)
    return (
      <>
        <path d="M12 4 L20.5 19 H3.5 Z" {...line} />
        <path d="M7.6 11.8 H16.4 L20.5 19 H3.5 Z" fill="currentColor" opacity="0.45" />
      </>
    )
  if (level === 2)
    return (
      <>
        <path d="M12 3 L21 12 L12 21 L3 12 Z" {...line} />
        <path d="M3 12 H21 L12 21 Z" fill="currentColor" opacity="0.55" />
      </>
    )
  if (level === 4)
    return (
      <>
        <path d="M12 2.8 L21.2 9.6 L17.7 20.6 H6.3 L2.8 9.6 Z" {...line} />
        <path d="M3 10 H21 L17.7 20.6 H6.3 Z" fill="currentColor" />
      </>
    )
  if (level === 3)
    return (
      <>
        <rect x="4" y="4" width="16" height="16" rx="1.5" {...line} />
        <path d="M4 12 H20 V20 H4 Z" fill="currentColor" />
      </>
    )
  return (
    <>
      <path d="M12 2.5 L20.5 7.3 V16.7 L12 21.5 L3.5 16.7 V7.3 Z" fill="currentColor" stroke="currentColor" />
      <path d="M8 12.2 L11 15.2 L16.2 8.9" stroke="var(--surface)" strokeWidth="2.2" fill="none" />
      {level >= 6 && <circle cx="12" cy="12" r="10.8" stroke="currentColor" strokeWidth="1.6" fill="none" />}
    </>
  )
}
