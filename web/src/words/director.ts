/** Sentences of the desk: loaded with the first of its pages, before any of them says one. */
import assign from './en/assign.json'
import bench from './en/bench.json'
import desk from './en/desk.json'
import hearing from './en/hearing.json'
import music from './en/music.json'
import pages from './en/pages.json'
import people from './en/people.json'
import plan from './en/plan.json'
import rehearse from './en/rehearse.json'
import score from './en/score.json'
import splitter from './en/splitter.json'
import wall from './en/wall.json'
import hearingUk from './uk/hearing.json'
import musicUk from './uk/music.json'
import pagesUk from './uk/pages.json'
import planUk from './uk/plan.json'
import scoreUk from './uk/score.json'
import splitterUk from './uk/splitter.json'
import { catalogue } from './words'

export const DIRECTOR = { assign, bench, desk, hearing, music, pages, people, plan, rehearse, score, splitter, wall }
const UK = { hearing: hearingUk, music: musicUk, pages: pagesUk, plan: planUk, score: scoreUk, splitter: splitterUk }

export type Director = typeof DIRECTOR

catalogue.addResourceBundle('en-US', 'translation', DIRECTOR, true)
catalogue.addResourceBundle('en-GB', 'translation', UK, true)
