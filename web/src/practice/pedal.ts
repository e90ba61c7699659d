/** A pedal that speaks MIDI: the right one is clean, the others a slip. */
export interface Pedal {
  clean: () => void
  slip: () => void
}

const SUSTAIN = 64
const OTHERS = [66, 67]
const DOWN = 64
const CONTROL = 0xb0

/** What a message of a pedal means; null for everything else. */
export function pedalOf(data: ArrayLike<number>): keyof Pedal | null {
  const [status = 0, control = 0, value = 0] = Array.from(data)
  if ((status & 0xf0) !== CONTROL || value < DOWN) return null
  if (control === SUSTAIN) return 'clean'
  return OTHERS.includes(control) ? 'slip' : null
}

/** Follow every pedal there is; the returned function ends that. Throws where browsers have none. */
export async function followPedal(pedal: Pedal): Promise<() => void> {
  if (!('requestMIDIAccess' in navigator)) throw new Error('no MIDI')
  const access = await navigator.requestMIDIAccess()
  const hear = (event: Event) => {
    const meant = pedalOf((event as MIDIMessageEvent).data ?? [])
    if (meant) pedal[meant]()
  }
  const listen = () => access.inputs.forEach((input) => input.addEventListener('midimessage', hear))
  listen()
  access.addEventListener('statechange', listen)
  return () => {
    access.removeEventListener('statechange', listen)
    access.inputs.forEach((input) => input.removeEventListener('midimessage', hear))
  }
}
