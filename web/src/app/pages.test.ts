import { describe, expect, it } from 'vitest'
import { pagesOf, type Right } from './pages'

const DIRECTOR: Right[] = [
  'read_music',
  'keep_music',
  'send',
  'see_players',
  'hear',
  'keep_people',
  'keep_account',
  'tick',
]
const ASSISTANT: Right[] = ['read_music', 'see_players', 'hear', 'keep_account']
const HELPER: Right[] = ['tick', 'keep_account']
const STUDENT: Right[] = ['practise', 'tick']

const links = (rights: Right[]) => pagesOf(rights).flatMap((page) => page.link ?? [])
const home = (rights: Right[]) => pagesOf(rights)[0]?.path

describe('the pages of a person', () => {
  it('lead a director to everything but a second account page', () => {
    expect(links(DIRECTOR)).toEqual([
      'Desk',
      'Music',
      'Hearing',
      'Rehearse',
      'Plans',
      'Assignments',
      'Sheets',
      'Wall',
      'People',
    ])
    expect(home(DIRECTOR)).toBe('/')
  })

  it('show an assistant the Hearing first, and nothing that sends or keeps', () => {
    expect(links(ASSISTANT)).toEqual(['Hearing', 'Wall', 'Account'])
    expect(home(ASSISTANT)).toBe('/hearing')
  })

  it('show a helper the student they tick for, first', () => {
    expect(links(HELPER)).toEqual(['Sheets', 'Account'])
    expect(home(HELPER)).toBe('/helped')
  })

  it('show a student their own pages alone', () => {
    expect(links(STUDENT)).toEqual(['Today', 'My music', 'Takes'])
    expect(pagesOf(STUDENT).every((page) => page.frame !== 'desk')).toBe(true)
  })

  it('name each address once', () => {
    for (const rights of [DIRECTOR, ASSISTANT, HELPER, STUDENT]) {
      const paths = pagesOf(rights).map((page) => page.path)
      expect(new Set(paths).size).toBe(paths.length)
    }
  })
})
