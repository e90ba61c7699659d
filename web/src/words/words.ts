/**
 * The catalogue of the sentences that students and everybody read; those of the desk come with it (`director.ts`), so
 * that a phone does not load them. `en/` has all of them in the words of schools in the US, `uk/` those
 * that schools in the UK say otherwise. A screen asks by key and gives numbers and names; plurals are i18next's.
 */
import i18next from 'i18next'
import app from './en/app.json'
import mymusic from './en/mymusic.json'
import practice from './en/practice.json'
import shared from './en/shared.json'
import sheets from './en/sheets.json'
import signin from './en/signin.json'
import stand from './en/stand.json'
import takes from './en/takes.json'
import today from './en/today.json'
import sharedUk from './uk/shared.json'
import standUk from './uk/stand.json'
import type { Director } from './director'

const US = {
  app,
  mymusic,
  practice,
  shared,
  sheets,
  signin,
  stand,
  takes,
  today,
}
const UK = {
  shared: sharedUk,
  stand: standUk,
}

type Plain<K extends string> = K extends `${infer Stem}_${'one' | 'other'}` ? Stem : K
type Catalogue = typeof US & Director
/** The name of a sentence: the room it is said in, and its first words. */
export type Key = {
  [Room in keyof Catalogue]: `${Room}.${Plain<Extract<keyof Catalogue[Room], string>>}`
}[keyof Catalogue]

export type Values = Record<string, string | number | null | undefined>

export type SchoolWords = 'us' | 'uk'
const CHOSEN = 'crumb.words'

/** The words of the school that was signed in here last. */
export function chosenWords(): SchoolWords {
  try {
    return localStorage.getItem(CHOSEN) === 'uk' ? 'uk' : 'us'
  } catch {
    return 'us'
  }
}

/** From the next opening on, this device says it in these words. */
export function rememberWords(words: SchoolWords): void {
  try {
    localStorage.setItem(CHOSEN, words)
  } catch {
    // A private window: it stays with the words of the US.
  }
}

export const catalogue = i18next.createInstance({
  lng: chosenWords() === 'uk' ? 'en-GB' : 'en-US',
  fallbackLng: 'en-US',
  resources: { 'en-US': { translation: US }, 'en-GB': { translation: UK } },
  // React escapes; a name with an apostrophe stays as it is written.
  interpolation: { escapeValue: false },
  nsSeparator: false,
  initAsync: false,
})
void catalogue.init()

const lists = new Intl.ListFormat('en-US', { type: 'conjunction' })

/** Names in a row, as a sentence has them: "flute, oboe, and horn". */
export function inList(names: string[]): string {
  return lists.format(names)
}

/** The sentence of a key, with its numbers and names put in; `count` chooses between one and many. */
export function t(key: Key, values: Values = {}): string {
  return catalogue.t(key, values)
}
