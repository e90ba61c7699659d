import { describe, expect, it } from 'vitest'
import type { PieceOut, SectionOut } from '../../api/gen'
import { opening } from './lastPlace'

const section = (id: string, name: string, players: number) =>
  ({ id, name, students: Array.from({ length: players }, (_, i) => ({ id: `${id}${i}` })) }) as unknown as SectionOut
const part = (id: string, instrument: string, sections: string[] = []) => ({ id, instrument, section_ids: sections })
const piece = (...parts: object[]) => ({ parts }) as unknown as PieceOut

const SECTIONS = [section('f', 'Flutes', 4), section('c', 'Clarinets', 12), section('e', 'Empty', 0)]
const PIECES = [piece(part('march', 'Flute'), part('other', 'Tuba', ['e'])), piece(part('etude', 'Clarinet', ['c']))]

describe('what the Wall opens on', () => {
  it('is a part with those who play it, where nobody was before', () => {
    expect(opening(PIECES, SECTIONS, {}, {})).toEqual({ part: 'etude', section: 'c' })
  })
  it('is where the director was last', () => {
    expect(opening(PIECES, SECTIONS, {}, { part: 'march', section: 'e' })).toEqual({ part: 'march', section: 'e' })
  })
  it('is what the address asks for, before anything else', () => {
    const asked = { part: 'march', section: 'c' }
    expect(opening(PIECES, SECTIONS, asked, { part: 'etude', section: 'c' })).toEqual(asked)
  })
  it('is the section that plays the part, where only the part is asked for', () => {
    expect(opening(PIECES, SECTIONS, { part: 'march' }, { part: 'etude', section: 'c' })).toEqual({
      part: 'march',
      section: 'f',
    })
  })
  it('is a section of the student who is asked for, wherever one was last', () => {
    const last = { part: 'etude', section: 'c' }
    expect(opening(PIECES, SECTIONS, { part: 'etude', student: 'f2' }, last)).toEqual({ part: 'etude', section: 'f' })
    expect(opening(PIECES, SECTIONS, { part: 'etude', student: 'nobody' }, last)).toEqual(last)
    const both = [...SECTIONS, { ...section('b', 'Both', 0), students: SECTIONS[1]?.students ?? [] }]
    expect(opening(PIECES, [...both].reverse(), { part: 'etude', student: 'c1' }, {})).toEqual({
      part: 'etude',
      section: 'c',
    })
    expect(opening(PIECES, both, { part: 'etude', section: 'e', student: 'c1' }, last)).toEqual({
      part: 'etude',
      section: 'e',
    })
  })
  it('forgets what is not there any more', () => {
    expect(opening(PIECES, SECTIONS, { part: 'gone' }, { part: 'gone too', section: 'gone' })).toEqual({
      part: 'etude',
      section: 'c',
    })
    expect(opening([], [], {}, {})).toEqual({ part: '', section: '' })
  })
})
