import { clock } from '../../shared/pure/time'
import { t } from '../../words/words'

/** Time on this drill against its share of today; when it is up, one goes on and comes back another day. */
export function Timer({ seconds, planned }: { seconds: number; planned: number }) {
  if (planned === 0) return <p className="timer">{clock(seconds)}</p>
  const isOver = seconds >= planned
  return (
    <p className={isOver ? 'timer over' : 'timer'} aria-label={t('stand.timeOnThisDrill')}>
      {t('stand.ofOfSecondsPlanned', { seconds: clock(seconds), planned: clock(planned) })}
      {isOver && t('stand.timeToMoveOn')}
    </p>
  )
}
