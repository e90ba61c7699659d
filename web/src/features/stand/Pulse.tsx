import type { Ticking } from './useMetronome'

/** The beat, large: for noisy rooms and for who cannot hear it. */
export function Pulse({ metronome }: { metronome: Ticking }) {
  const { beat, count } = metronome
  const word = beat === null || beat.sound === 'silent' ? '' : beat.sound === 'count' ? String(beat.left) : beat.sound === 'first' ? '1' : beat.sound === 'off' ? 'and' : ''
  const isLit = beat !== null && beat.sound !== 'silent'
  return (
    <div className={isLit ? `pulse lit-${count % 2} ${beat.sound}` : 'pulse'} aria-hidden="true">
      {word}
    </div>
  )
}
