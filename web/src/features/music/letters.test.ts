import { expect, test } from 'vitest'
import { lettersOf } from './letters'

test('letters are typed as they stand in the part', () => {
  expect(lettersOf('A 9, B 23;  R3 101')).toEqual([
    { letter: 'A', number: 9 },
    { letter: 'B', number: 23 },
    { letter: 'R3', number: 101 },
  ])
  expect(lettersOf('  ')).toEqual([])
})

test('what cannot be read is not guessed', () => {
  expect(lettersOf('A')).toBeNull()
  expect(lettersOf('A nine')).toBeNull()
})
