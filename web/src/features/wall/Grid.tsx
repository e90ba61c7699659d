import { useVirtualizer, type VirtualItem } from '@tanstack/react-virtual'
import { memo, useCallback, useEffect, useRef, useState, type KeyboardEvent, type MouseEvent, type ReactNode } from 'react'
import { Cell } from './Cell'
import type { Choosing } from './useChoosing'

const COLUMN = 74
const ROW = 34
const NAMES = 170
const HEAD = 48
const FOOT = 70
const BEYOND = 2

export interface GridColumn {
  key: string
  head: ReactNode
  /** What it is called where it is read out. */
  name: string
  foot: string
  isBeside?: boolean
}

export interface GridRow {
  key: string
  name: string
  head?: ReactNode
  levels: (number | null)[]
  seams: ('' | 'in' | 'out' | 'both')[]
  due: Set<number>
}

/** Where each wall was scrolled to, for as long as the page is open. */
const places = new Map<string, { top: number; left: number }>()

interface Props {
  /** Whose place is kept. */
  place: string
  label: string
  /** Whose standing the last row tells. */
  whole?: string
  columns: GridColumn[]
  rows: GridRow[]
  /** None: cells are opened and not chosen. */
  choosing?: Choosing
  open: (row: number, column: number) => void
}

/**
 * Rows by columns, of which only what is seen is drawn: for a hundred and fifty players by two hundred chunks.
 * Arrows go from cell to cell, Enter opens one, Space chooses it, Shift with an arrow or a click chooses a block.
 */
export function Grid({ place, label, whole = 'Section', columns, rows, choosing, open }: Props) {
  const frame = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState({ row: 0, column: 0 })
  const getScrollElement = () => frame.current
  const kept = places.get(place) ?? { top: 0, left: 0 }
  // eslint-disable-next-line react-hooks/incompatible-library -- what it returns is not kept anywhere
  const down = useVirtualizer({ count: rows.length, getScrollElement, estimateSize: () => ROW, overscan: BEYOND, initialOffset: kept.top, scrollPaddingStart: HEAD, scrollPaddingEnd: FOOT })
  const across = useVirtualizer({ horizontal: true, count: columns.length, getScrollElement, estimateSize: () => COLUMN, overscan: BEYOND, initialOffset: kept.left, scrollPaddingStart: NAMES })
  const wanted = useRef(false)
  const here = { row: Math.min(at.row, rows.length - 1), column: Math.min(at.column, columns.length - 1) }
  useEffect(() => {
    if (!wanted.current) return
    // A cell that is far away is drawn a moment later.
    const cell = frame.current?.querySelector<HTMLElement>(`[data-cell="${here.row} ${here.column}"]`)
    cell?.focus({ preventScroll: true })
    wanted.current = !cell
  })
  function goTo(row: number, column: number, isBlock: boolean) {
    const next = { row: Math.min(Math.max(row, 0), rows.length - 1), column: Math.min(Math.max(column, 0), columns.length - 1) }
    if (isBlock) choosing?.block(here, next)
    down.scrollToIndex(next.row)
    across.scrollToIndex(next.column)
    wanted.current = true
    setAt(next)
  }
  function onKey(event: KeyboardEvent) {
    const { row, column } = here
    const page = Math.max(1, Math.floor((frame.current?.clientHeight ?? 400) / ROW) - 3)
    const moves: Record<string, [number, number]> = {
      ArrowDown: [row + 1, column],
      ArrowUp: [row - 1, column],
      ArrowRight: [row, column + 1],
      ArrowLeft: [row, column - 1],
      PageDown: [row + page, column],
      PageUp: [row - page, column],
      Home: [event.ctrlKey ? 0 : row, 0],
      End: [event.ctrlKey ? rows.length - 1 : row, columns.length - 1],
    }
    const move = moves[event.key]
    if (move) goTo(...move, event.shiftKey)
    else if (event.key === ' ') choosing?.toggle(row, column)
    else if (event.key === 'Escape') choosing?.clear()
    else return
    event.preventDefault()
  }
  function onClick(event: MouseEvent, row: number, column: number) {
    setAt({ row, column })
    if (choosing && event.shiftKey) choosing.block(here, { row, column })
    else if (choosing && (event.ctrlKey || event.metaKey || choosing.isOn)) choosing.toggle(row, column)
    else open(row, column)
  }
  const latest = useRef(onClick)
  useEffect(() => {
    latest.current = onClick
  })
  const click = useCallback((event: MouseEvent, row: number, column: number) => latest.current(event, row, column), [])
  const shown = across.getVirtualItems()
  const width = NAMES + across.getTotalSize()
  return (
    <div className="wall-scroll" ref={frame} onScroll={({ currentTarget: { scrollTop, scrollLeft } }) => places.set(place, { top: scrollTop, left: scrollLeft })}>
      <div className="wall" role="grid" aria-label={label} aria-rowcount={rows.length + 2} aria-colcount={columns.length + 1} aria-multiselectable={choosing !== undefined} onKeyDown={onKey} style={{ width }}>
        <div role="row" aria-rowindex={1} className="wall-head" style={{ height: HEAD, width }}>
          <span role="columnheader" aria-colindex={1} className="wall-name" style={{ width: NAMES }}>
            Student
          </span>
          {shown.map((column) => (
            <span
              key={columns[column.index]?.key}
              role="columnheader"
              aria-colindex={column.index + 2}
              className={columns[column.index]?.isBeside ? 'beside' : undefined}
              title={columns[column.index]?.isBeside ? 'Sent as a passage of its own' : undefined}
              style={{ left: NAMES + column.start, width: COLUMN }}
            >
              {columns[column.index]?.head}
            </span>
          ))}
        </div>
        {down.getVirtualItems().map(({ index, start }) => {
          const row = rows[index]
          if (!row) return null
          return <Row key={row.key} row={row} index={index} top={HEAD + start} width={width} columns={columns} shown={shown} chosen={choosing?.inRow(index) ?? ''} tabStop={here.row === index ? here.column : -1} onClick={click} />
        })}
        <div role="row" aria-rowindex={rows.length + 2} className="wall-foot" style={{ height: FOOT, width, marginTop: down.getTotalSize() }}>
          <span role="rowheader" aria-colindex={1} className="wall-name" style={{ width: NAMES }}>
            {whole}
          </span>
          {shown.map((column) => (
            <span key={columns[column.index]?.key} role="gridcell" aria-colindex={column.index + 2} style={{ left: NAMES + column.start, width: COLUMN }}>
              {columns[column.index]?.foot}
            </span>
          ))}
        </div>
      </div>
    </div>
  )
}

interface RowProps {
  row: GridRow
  index: number
  top: number
  width: number
  columns: GridColumn[]
  shown: VirtualItem[]
  /** Places of the chosen columns, each between blanks. */
  chosen: string
  tabStop: number
  onClick: (event: MouseEvent, row: number, column: number) => void
}

/** Up and down only rows come and go: those that stay are not drawn again. */
const Row = memo(function Row({ row, index, top, width, columns, shown, chosen, tabStop, onClick }: RowProps) {
  return (
    <div role="row" aria-rowindex={index + 2} className="wall-row" style={{ top, height: ROW, width }}>
      <span role="rowheader" aria-colindex={1} className="wall-name" style={{ width: NAMES }}>
        {row.head ?? row.name}
      </span>
      {shown.map((column) => (
        <Cell
          key={columns[column.index]?.key}
          row={index}
          column={column.index}
          of={row.name}
          on={columns[column.index]?.name ?? ''}
          level={row.levels[column.index] ?? null}
          seams={row.seams[column.index] ?? ''}
          isDue={row.due.has(column.index)}
          isChosen={chosen.includes(` ${column.index} `)}
          isTabStop={tabStop === column.index}
          left={NAMES + column.start}
          width={COLUMN}
          onClick={onClick}
        />
      ))}
    </div>
  )
})
