import { expect, test } from 'vitest'
import type { MyPartOut, OwedOut, AskedPassageOut } from '../../api/gen'
import { passageName, recordable } from './passages'

const passage = (chunk: string, label: string, part = 'p'): AskedPassageOut => ({
  part_id: part,
  chunk_id: chunk,
  title: 'Etude',
  part: 'Clarinet',
  label,
  least_seconds: 9,
})
const asked = (...passages: AskedPassageOut[]): OwedOut[] => [
  { id: 't', due_on: '2030-01-01', is_closed: false, things: [{ either: passages, state: 'open' }] },
]
const part = { part_id: 'p', chunks: [{ id: 'a', label: '1–2→' }] } as MyPartOut

test('a run-through that was asked for can be recorded beside the chunks, once', () => {
  const wanted = [
    ...asked(passage('a', '1–2'), passage('whole', 'run-through')),
    ...asked(passage('whole', 'run-through')),
  ]
  expect(recordable(part, wanted)).toEqual([
    { id: 'a', label: '1–2' },
    { id: 'whole', label: 'run-through' },
  ])
})

test('what was asked for of another part is not of this one', () => {
  expect(recordable(part, asked(passage('b', '3', 'q')))).toHaveLength(1)
})

test('a passage is named with its piece', () => {
  expect(passageName(passage('a', '13–14→'))).toBe('Etude 13–14')
})
