import { describe, expect, it } from 'vitest'
import { inWords, keysInWords } from './words'

describe('a rehearsal in words', () => {
  it('names sections that do the same together', () => {
    const found = inWords([
      { section: 'Horns', say: 'Rest.' },
      { section: 'Flutes', say: 'Fingers.' },
      { section: 'Oboes', say: 'Rest.' },
    ])
    expect(found).toEqual([
      { say: 'Rest.', who: 'Horns, Oboes' },
      { say: 'Fingers.', who: 'Flutes' },
    ])
  })

  it('says each written key once', () => {
    expect(
      keysInWords([
        { section: 'Clarinets', key: 'C' },
        { section: 'Horns', key: 'F' },
        { section: 'Trumpets', key: 'C' },
      ]),
    ).toBe('C: Clarinets, Trumpets · F: Horns')
  })
})
