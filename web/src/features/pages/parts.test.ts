import { expect, test } from 'vitest'
import type { PageOut } from '../../api/gen'
import { changed, moveBeginning, movePage, partsOf } from './parts'

function page(id: string, name?: string, more: Partial<PageOut> = {}): PageOut {
  return {
    id,
    turn: 0,
    is_left_out: false,
    begins: name ? { name, played_on: 'Flute', section_id: null } : null,
    width: 100,
    height: 140,
    is_drawn: true,
    message: '',
    measures: 10,
    first_number: 1,
    last_number: 10,
    conflicts: 0,
    ...more,
  }
}

const PAGES = [page('a', 'Flute 1'), page('b'), page('c', 'Flute 2'), page('d')]

test('pages belong to the part that began before them', () => {
  expect(partsOf(PAGES).map((part) => [part.begins.name, part.places])).toEqual([
    ['Flute 1', [0, 1]],
    ['Flute 2', [2, 3]],
  ])
})

test('a part that begins on a page that is left out begins nowhere', () => {
  const pages = [page('a', 'Flute 1'), page('b'), page('c', 'Flute 2', { is_left_out: true }), page('d')]
  expect(partsOf(pages).map((part) => part.places)).toEqual([[0, 1, 2, 3]])
})

test('a beginning that is dragged takes its name along', () => {
  expect(moveBeginning(PAGES, 2, 1).map((wish) => wish.begins?.name ?? '')).toEqual(['Flute 1', 'Flute 2', '', ''])
  expect(moveBeginning(PAGES, 2, 0)).toEqual(moveBeginning(PAGES, 2, 2))
})

test('a page that is moved leaves the beginnings where they are', () => {
  const moved = movePage(PAGES, 2, 1)
  expect(moved.map((wish) => wish.id)).toEqual(['a', 'b', 'd', 'c'])
  expect(moved.map((wish) => wish.begins?.name ?? '')).toEqual(['Flute 1', '', 'Flute 2', ''])
})

test('one page is left out and the others stay', () => {
  expect(changed(PAGES, 1, { is_left_out: true }).map((wish) => wish.is_left_out)).toEqual([false, true, false, false])
})
