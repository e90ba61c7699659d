import { expect, test } from 'vitest'
import type { GridColumn, GridRow } from './Grid'
import { shownOf } from './shown'

const columns: GridColumn[] = ['1', '2', '3'].map((name) => ({ key: name, name, head: name, foot: '' }))
const row = (name: string, levels: (number | null)[], due: number[] = []): GridRow => ({
  key: name,
  name,
  levels,
  seams: levels.map(() => ''),
  due: new Set(due),
})
const rows = [row('Ada', [5, 0, 6]), row('Bea', [6, 3, 6], [2]), row('Cleo', [5, 6, null])]

test('what is open leaves out the columns and students that have nothing open', () => {
  const shown = shownOf(columns, rows, 'open', 'score', '')
  expect(shown.columns.map((one) => one.key)).toEqual(['2'])
  expect(shown.rows.map((one) => one.name)).toEqual(['Ada', 'Bea'])
  expect(shown.rows.map((one) => one.levels)).toEqual([[0], [3]])
})

test('a check that is due moves with its column', () => {
  const shown = shownOf(columns, rows, 'due', 'score', '')
  expect([shown.columnOf, shown.rowOf]).toEqual([[2], [1]])
  expect([...(shown.rows[0]?.due ?? [])]).toEqual([0])
})

test('most open first moves chunks and leaves students in order of name', () => {
  const shown = shownOf(columns, rows, 'all', 'open', '')
  expect(shown.columns.map((one) => one.key)).toEqual(['2', '1', '3'])
  expect(shown.rows.map((one) => one.name)).toEqual(['Ada', 'Bea', 'Cleo'])
})

test('where somebody rests nothing is open', () => {
  expect(shownOf(columns, [row('Cleo', [null, null, null])], 'new', 'score', '').rows).toEqual([])
})

test('a name finds its student however it is written', () => {
  expect(shownOf(columns, rows, 'all', 'score', ' bEA').rowOf).toEqual([1])
})
