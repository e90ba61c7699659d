import { clock as pageClock, type AudioClock } from './clock'
import { playNote, voiceOf } from './voices'

const NOTES = [76, 72]
const APART_SECONDS = 0.35

/** Two soft notes, falling: the time that was planned is over. Nothing stops; one may finish what one plays. */
export async function chime(clock: AudioClock = pageClock): Promise<void> {
  const context = await clock.wake()
  NOTES.forEach((midi, i) =>
    playNote(context, context.destination, voiceOf('mallets'), {
      midi,
      at: context.currentTime + 0.05 + i * APART_SECONDS,
      seconds: 0.8,
    }),
  )
}
