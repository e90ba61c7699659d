import { LEVEL_NAMES, LevelMark } from '../../shared/ui/LevelMark'

export function Legend() {
  return (
    <p className="legend">
      {Object.entries(LEVEL_NAMES).map(([level, name]) => (
        <span key={level}>
          <LevelMark level={Number(level)} size={18} /> {name}
        </span>
      ))}
      <span>
        <span className="wall-cell seam-in open-out sample" aria-hidden="true" /> a line at an edge: seam shown; dots:
        open
      </span>
      <span>
        <span className="wall-cell is-due sample" aria-hidden="true" /> dashed: to be tried cold
      </span>
    </p>
  )
}
