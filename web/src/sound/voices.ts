/**
 * Tones that resemble the instruments, made from their first overtones and the shape of their attack.
 * Made here, so that no recording has to be shipped. Strengths are rough, by ear and from memory.
 */
export interface Voice {
  /** Strength of each overtone, the first being the pitch itself. */
  overtones: number[]
  /** Seconds until the tone is full. */
  attack: number
  /** Seconds until a tone that is not held has died away; 0: it is held. */
  ring: number
  /** Seconds after the note's end until it is gone. */
  release: number
  loudness: number
}

const REED: Voice = {
  overtones: [1, 0.05, 0.6, 0.04, 0.32, 0.05, 0.14, 0.05, 0.08],
  attack: 0.035,
  ring: 0,
  release: 0.05,
  loudness: 0.2,
}
const BRASS: Voice = {
  overtones: [1, 0.85, 0.7, 0.5, 0.34, 0.22, 0.14, 0.09, 0.05],
  attack: 0.03,
  ring: 0,
  release: 0.05,
  loudness: 0.13,
}
const BOWED: Voice = {
  overtones: [1, 0.6, 0.45, 0.35, 0.3, 0.2, 0.18, 0.12, 0.1, 0.07],
  attack: 0.06,
  ring: 0,
  release: 0.09,
  loudness: 0.14,
}
const FLUTE: Voice = { overtones: [1, 0.35, 0.12, 0.05, 0.02], attack: 0.05, ring: 0, release: 0.06, loudness: 0.22 }
const DOUBLE_REED: Voice = {
  overtones: [0.6, 0.9, 1, 0.7, 0.5, 0.35, 0.2, 0.12],
  attack: 0.03,
  ring: 0,
  release: 0.05,
  loudness: 0.12,
}
const SAXOPHONE: Voice = {
  overtones: [1, 0.7, 0.55, 0.4, 0.25, 0.2, 0.12, 0.08],
  attack: 0.03,
  ring: 0,
  release: 0.05,
  loudness: 0.14,
}
const STRUCK: Voice = {
  overtones: [1, 0.08, 0.02, 0.35, 0.01, 0.06],
  attack: 0.003,
  ring: 1.1,
  release: 0.15,
  loudness: 0.25,
}
const KEYS: Voice = {
  overtones: [1, 0.5, 0.3, 0.18, 0.12, 0.07, 0.04],
  attack: 0.005,
  ring: 1.8,
  release: 0.12,
  loudness: 0.2,
}

const BY_FAMILY: Record<string, Voice> = {
  flute: FLUTE,
  clarinet: REED,
  oboe: DOUBLE_REED,
  bassoon: DOUBLE_REED,
  saxophone: SAXOPHONE,
  trumpet: BRASS,
  horn: BRASS,
  trombone: BRASS,
  euphonium: BRASS,
  tuba: BRASS,
  violin: BOWED,
  viola: BOWED,
  cello: BOWED,
  bass: BOWED,
  mallets: STRUCK,
  drums: STRUCK,
  keyboard: KEYS,
  voice: FLUTE,
}

export function voiceOf(family: string): Voice {
  return BY_FAMILY[family] ?? KEYS
}

const waves = new WeakMap<BaseAudioContext, Map<Voice, PeriodicWave>>()

function waveOf(context: BaseAudioContext, voice: Voice): PeriodicWave {
  const known = waves.get(context) ?? new Map<Voice, PeriodicWave>()
  waves.set(context, known)
  let wave = known.get(voice)
  if (!wave) {
    const strengths = new Float32Array([0, ...voice.overtones])
    wave = context.createPeriodicWave(new Float32Array(strengths.length), strengths)
    known.set(voice, wave)
  }
  return wave
}

export function frequencyOf(midi: number): number {
  return 440 * 2 ** ((midi - 69) / 12)
}

/** One note at an exact time of the audio clock; what plays it can be stopped early. */
export function playNote(
  context: BaseAudioContext,
  into: AudioNode,
  voice: Voice,
  { midi, at, seconds }: { midi: number; at: number; seconds: number },
): OscillatorNode {
  const tone = context.createOscillator()
  const loudness = context.createGain()
  tone.setPeriodicWave(waveOf(context, voice))
  tone.frequency.value = frequencyOf(midi)
  const full = at + Math.min(voice.attack, seconds / 2)
  const end = at + Math.max(seconds * 0.94, 0.03)
  loudness.gain.setValueAtTime(0.0001, at)
  loudness.gain.exponentialRampToValueAtTime(voice.loudness, full)
  if (voice.ring > 0)
    loudness.gain.exponentialRampToValueAtTime(
      voice.loudness / 30,
      Math.max(full + 0.01, Math.min(end, at + voice.ring)),
    )
  else loudness.gain.setValueAtTime(voice.loudness, end)
  loudness.gain.exponentialRampToValueAtTime(0.0001, end + voice.release)
  tone.connect(loudness).connect(into)
  tone.start(at)
  tone.stop(end + voice.release + 0.02)
  return tone
}

/** A stroke without pitch: a short burst of a high, quick tone. */
export function playStroke(context: BaseAudioContext, into: AudioNode, at: number): OscillatorNode {
  return blip(context, into, { at, pitch: 320, loudness: 0.3, seconds: 0.05 })
}

export type ClickSound = 'plain' | 'high' | 'accent' | 'soft' | 'off'

/** What sounds between the beats is told from them by its colour, not only by its pitch. */
const CLICKS: Record<ClickSound, { pitch: number; share: number; shape: OscillatorType }> = {
  plain: { pitch: 880, share: 1, shape: 'triangle' },
  high: { pitch: 1320, share: 1, shape: 'triangle' },
  accent: { pitch: 1100, share: 1.3, shape: 'triangle' },
  soft: { pitch: 880, share: 0.45, shape: 'triangle' },
  off: { pitch: 587, share: 0.6, shape: 'square' },
}
const LOUDEST = 0.6
export const USUAL_VOLUME = 0.6

/** A click of the metronome; ears hear loudness by its square, more or less. */
export function playClick(
  context: BaseAudioContext,
  into: AudioNode,
  { at, sound, volume = USUAL_VOLUME }: { at: number; sound: ClickSound; volume?: number },
): OscillatorNode {
  const { pitch, share, shape } = CLICKS[sound]
  return blip(context, into, {
    at,
    pitch,
    shape,
    loudness: Math.max(LOUDEST * share * volume ** 2, 0.0002),
    seconds: 0.06,
  })
}

interface Blip {
  at: number
  pitch: number
  loudness: number
  seconds: number
  shape?: OscillatorType
}

function blip(
  context: BaseAudioContext,
  into: AudioNode,
  { at, pitch, loudness, seconds, shape = 'triangle' }: Blip,
): OscillatorNode {
  const tone = context.createOscillator()
  const gain = context.createGain()
  tone.type = shape
  tone.frequency.value = pitch
  gain.gain.setValueAtTime(0.0001, at)
  gain.gain.exponentialRampToValueAtTime(loudness, at + 0.002)
  gain.gain.exponentialRampToValueAtTime(0.0001, at + seconds)
  tone.connect(gain).connect(into)
  tone.start(at)
  tone.stop(at + seconds + 0.02)
  return tone
}
