import { describe, expect, it } from 'vitest'
import { saidIn } from './words'

describe('words of a school', () => {
  it('leaves US sentences as they are', () => {
    expect(saidIn('us', 'Every measure adds up.')).toBe('Every measure adds up.')
    expect(saidIn(undefined, 'Measures')).toBe('Measures')
  })
  it('says bars and crotchets in the UK, capitals kept', () => {
    expect(saidIn('uk', 'Measures in a chunk')).toBe('Bars in a chunk')
    expect(saidIn('uk', 'dotted quarters a minute')).toBe('dotted crotchets a minute')
    expect(saidIn('uk', 'measured')).toBe('measured')
  })
})
