/** How somebody likes their stand: kept on this device, for every drill. */
import type { ClickMode } from '../sound/strokes'

export interface StandSettings {
  click: ClickMode
  hasAccents: boolean
  hasCountIn: boolean
  /** From 0 to 1; it starts low, for ears in headphones. */
  volume: number
  /** The beat shown large, for noisy rooms and for who cannot hear it. */
  isVisual: boolean
  /** A mark that moves on the notes while they are heard, and with the click the first time through. */
  hasMark: boolean
  isHandsFree: boolean
  hasPedal: boolean
  prompts: string[]
}

export const USUAL: StandSettings = {
  click: 'asked',
  hasAccents: false,
  hasCountIn: true,
  volume: 0.4,
  isVisual: false,
  hasMark: true,
  isHandsFree: false,
  hasPedal: false,
  prompts: [],
}

const KEPT = 'crumb.stand'

export function readSettings(kept: Pick<Storage, 'getItem'> = localStorage): StandSettings {
  try {
    const found = JSON.parse(kept.getItem(KEPT) ?? '{}') as Partial<StandSettings>
    // The microphone is asked for each time: nobody is listened to because somebody else once agreed.
    return { ...USUAL, ...found, isHandsFree: false }
  } catch {
    return USUAL
  }
}

export function keepSettings(settings: StandSettings, kept: Pick<Storage, 'setItem'> = localStorage): void {
  try {
    kept.setItem(KEPT, JSON.stringify(settings))
  } catch {
    // No room: they hold as long as the page does.
  }
}
