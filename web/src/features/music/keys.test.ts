import { expect, it } from 'vitest'
import { keyName } from './keys'

it('names a key by its mode, or by its accidentals where none is said', () => {
  expect(keyName(1, 'major')).toBe('G major')
  expect(keyName(-3, 'minor')).toBe('C minor')
  expect(keyName(2, '')).toBe('2 sharps')
  expect(keyName(-1, '')).toBe('1 flat')
  expect(keyName(0, '')).toBe('no sharps or flats')
})
