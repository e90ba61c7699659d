import { useState } from 'react'
import type { Ticking } from './useMetronome'
import { t } from '../../words/words'

/** The beat, large: for noisy rooms and for who cannot hear it. */
export function Pulse({ metronome }: { metronome: Ticking }) {
  const { beat, count } = metronome
  const word =
    beat === null || beat.sound === 'silent'
      ? ''
      : beat.sound === 'count'
        ? String(beat.left)
        : beat.sound === 'first'
          ? '1'
          : beat.sound === 'off'
            ? 'and'
            : ''
  const isLit = beat !== null && beat.sound !== 'silent'
  return (
    <div className={isLit ? `pulse lit-${count % 2} ${beat.sound}` : 'pulse'} aria-hidden="true">
      {word}
    </div>
  )
}

/** In the silent bars the pulse is the player's own: a tap tells how well it is kept. */
export function PulseCheck({ offBy }: { offBy: (at: number) => number | null }) {
  const [off, setOff] = useState<number | null>(null)
  return (
    <p className="pulse-check">
      <button type="button" onPointerDown={(event) => setOff(offBy(event.timeStamp))}>
        {t('stand.tapThePulse')}
      </button>
      {off !== null && (
        <span role="status">
          {t('stand.ofABeatOff', {
            direction: Math.abs(off) < 0.1 ? t('stand.good') : off < 0 ? t('stand.early') : t('stand.late'),
            beats: Math.abs(off).toFixed(2),
          })}
        </span>
      )}
    </p>
  )
}
