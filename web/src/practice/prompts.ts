import { t } from '../words/words'
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
    label: t('practice.postureEveryTen'),
    say: t('practice.howDoYouSitOrStand'),
    families: [],
    every: 10,
  },
  {
    key: 'phrased',
    label: t('practice.phrasedEveryFive'),
    say: t('practice.phrasedWhereDoesTheLineLead'),
    families: [],
    every: 5,
  },
  {
    key: 'names',
    label: t('practice.noteNamesOnSome'),
    say: t('practice.nextTimeSayTheNoteNames'),
    families: [],
    every: 3,
  },
  {
    key: 'counts',
    label: t('practice.countAloudOnSome'),
    say: t('practice.nextTimeCountAloudOrIn'),
    families: [],
    every: 4,
  },
  {
    key: 'slide',
    label: t('practice.lockTheSlideAtRest'),
    say: t('practice.notPlayingLockTheSlide'),
    families: ['trombone'],
    every: 0,
  },
  {
    key: 'rest',
    label: t('practice.restAsLongAsYouPlayed'),
    say: t('practice.restAboutAsLongAsYou'),
    families: [...BRASS, ...REEDS],
    every: 0,
  },
  {
    key: 'grip',
    label: t('practice.keepTheBowGrip'),
    say: t('practice.arcoComesRightAfterKeepYour'),
    families: BOWED,
    every: 6,
  },
  {
    key: 'marker',
    label: t('practice.noMarkerOrMuteHere'),
    say: t('practice.noBowMarkerPutASmall'),
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
