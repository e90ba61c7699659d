import { LEVEL_NAMES, LevelMark } from '../../shared/ui/LevelMark'
import { t } from '../../words/words'

export function Legend() {
  return (
    <p className="legend">
      {Object.entries(LEVEL_NAMES).map(([level, name]) => (
        <span key={level}>
          <LevelMark level={Number(level)} size={18} /> {name}
        </span>
      ))}
      <span>
        <span className="wall-cell seam-in open-out sample" aria-hidden="true" /> {t('wall.aLineAtAnEdgeSeam')}
      </span>
      <span>
        <span className="wall-cell is-due sample" aria-hidden="true" /> {t('wall.dashedDueForAColdTry')}
      </span>
    </p>
  )
}
