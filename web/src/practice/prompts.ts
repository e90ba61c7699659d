/** Small reminders while one practises, each switched on by the player; common practice, no source. */
export interface Prompt {
  key: string
  label: string
  say: string
  /** Instruments it is for; none: for all. */
  families: string[]
  /** After how many repetitions it comes, again and again; 0: while the click rests. */
  every: number
}

const BRASS = ['trumpet', 'horn', 'trombone', 'euphonium', 'tuba']
const REEDS = ['clarinet', 'oboe', 'bassoon', 'saxophone']
const BOWED = ['violin', 'viola', 'cello', 'bass']

export const PROMPTS: Prompt[] = [
  {
    key: 'posture',
    label: 'Posture, every ten',
    say: 'How do you sit or stand? Shoulders low, breathe out, then on.',
    families: [],
    every: 10,
  },
  { key: 'phrased', label: 'Phrased? every five', say: 'Phrased? Where does the line lead?', families: [], every: 5 },
  {
    key: 'names',
    label: 'Note names on some',
    say: 'On the next one, say the note names in your head.',
    families: [],
    every: 3,
  },
  {
    key: 'counts',
    label: 'Count aloud on some',
    say: 'On the next one, count: aloud, or in your head while you blow.',
    families: [],
    every: 4,
  },
  {
    key: 'slide',
    label: 'Lock the slide at rest',
    say: 'Not playing: lock the slide.',
    families: ['trombone'],
    every: 0,
  },
  {
    key: 'rest',
    label: 'Rest as long as you played',
    say: 'Rest about as long as you just played; lips need it.',
    families: [...BRASS, ...REEDS],
    every: 0,
  },
  {
    key: 'grip',
    label: 'Keep the bow grip',
    say: 'The bow follows at once: keep its grip while you pluck.',
    families: BOWED,
    every: 6,
  },
  {
    key: 'marker',
    label: 'No marker or mute here',
    say: 'No bow marker at hand: a small soft pencil dot on the stick, wiped off later. No mute: play it softly at the fingerboard.',
    families: BOWED,
    every: 0,
  },
]

export function promptsFor(family: string): Prompt[] {
  return PROMPTS.filter((one) => one.families.length === 0 || one.families.includes(family))
}

/** What to say now: of several that are due, the rarest. */
export function promptNow(chosen: string[], family: string, count: number, isResting: boolean): Prompt | null {
  const on = promptsFor(family).filter((one) => chosen.includes(one.key))
  const due = on.filter((one) => (one.every === 0 ? isResting && count > 0 : count > 0 && count % one.every === 0))
  return due.sort((a, b) => b.every - a.every)[0] ?? null
}
