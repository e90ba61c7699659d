import { AT_TEMPO } from '../../shared/pure/levels'
import type { GridColumn, GridRow } from './Grid'
import { t } from '../../words/words'

export type Show = 'all' | 'open' | 'due' | 'new'
export type Order = 'score' | 'open'

export const SHOWS: { value: Show; label: string }[] = [
  { value: 'all', label: t('wall.everything') },
  { value: 'open', label: t('wall.whatIsOpen') },
  { value: 'due', label: t('wall.dueForAColdTry') },
  { value: 'new', label: t('wall.notBegun') },
]
export const ORDERS: { value: Order; label: string }[] = [
  { value: 'score', label: t('wall.inScoreOrder') },
  { value: 'open', label: t('wall.mostOpenFirst') },
]

export interface Shown {
  columns: GridColumn[]
  rows: GridRow[]
  /** For each shown column and row its place in all of them. */
  columnOf: number[]
  rowOf: number[]
}

function isWanted(row: GridRow, column: number, show: Show): boolean {
  const level = row.levels[column]
  if (level === null || level === undefined) return false
  if (show === 'open') return level < AT_TEMPO
  if (show === 'new') return level === 0
  return show === 'all' || row.due.has(column)
}

/** The rows and columns in which there is something of what is wanted; students stay in order of name, never of level. */
export function shownOf(columns: GridColumn[], rows: GridRow[], show: Show, order: Order, name: string): Shown {
  const wanted = name.trim().toLocaleLowerCase()
  const named = rows.map((_, i) => i).filter((i) => (rows[i]?.name ?? '').toLocaleLowerCase().includes(wanted))
  const openIn = (column: number) => named.filter((i) => rows[i] && isWanted(rows[i], column, 'open')).length
  let columnOf = columns
    .map((_, i) => i)
    .filter((column) => show === 'all' || named.some((i) => rows[i] && isWanted(rows[i], column, show)))
  if (order === 'open') {
    const open = new Map(columnOf.map((column) => [column, openIn(column)]))
    columnOf = [...columnOf].sort((a, b) => (open.get(b) ?? 0) - (open.get(a) ?? 0) || a - b)
  }
  const rowOf = named.filter(
    (i) => show === 'all' || columnOf.some((column) => rows[i] && isWanted(rows[i], column, show)),
  )
  return {
    columns: columnOf.flatMap((i) => columns[i] ?? []),
    rows: rowOf.flatMap((i) => {
      const row = rows[i]
      if (!row) return []
      const due = new Set(columnOf.flatMap((column, place) => (row.due.has(column) ? [place] : [])))
      return [
        {
          ...row,
          levels: columnOf.map((c) => row.levels[c] ?? null),
          seams: columnOf.map((c) => row.seams[c] ?? ''),
          due,
        },
      ]
    }),
    columnOf,
    rowOf,
  }
}
