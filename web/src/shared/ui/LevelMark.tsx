import { LEVEL_SHAPES } from './levelShapes'
import { t } from '../../words/words'

export const LEVEL_NAMES: Record<number, string> = {
  0: t('shared.new'),
  1: t('shared.notes'),
  2: t('shared.rhythm'),
  3: t('shared.steady'),
  4: t('shared.linked'),
  5: t('shared.atTempo'),
  6: t('shared.kept'),
}

interface Props {
  level: number
  size?: number
  hasNumber?: boolean
}

/** A level as a shape that fills up, its number, and a colour: readable in grey print too. */
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
  return LEVEL_SHAPES[level]?.map((piece) => <path key={piece.d} {...piece} />)
}
