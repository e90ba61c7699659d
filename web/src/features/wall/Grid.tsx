import { useVirtualizer } from '@tanstack/react-virtual'
import {
  memo,
  useEffect,
  useRef,
  useState,
  type CSSProperties,
  type FocusEvent,
  type KeyboardEvent,
  type MouseEvent,
  type ReactNode,
} from 'react'
import { Cell } from './Cell'
import { shownRange } from './shownRange'
import type { Choosing } from './useChoosing'
import { t } from '../../words/words'

const COLUMN = 74
const ROW = 34
const NAMES = 170
const HEAD = 48
const FOOT = 70
const BEYOND = 2
/** Columns come and go so many at once: one at a time, every row would be asked at nearly every frame. */
const TOGETHER = 4

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
 *
 * What stays where it is while the rest moves is four layers and no more: a browser moves layers, it does not draw
 * them anew. So the names that are seen stand in one column beside the rows, and each row has its own for who listens.
 */
export function Grid({ place, label, whole = t('wall.section'), columns, rows, choosing, open }: Props) {
  const frame = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState({ row: 0, column: 0 })
  const getScrollElement = () => frame.current
  const kept = places.get(place) ?? { top: 0, left: 0 }
  // eslint-disable-next-line react-hooks/incompatible-library -- what it returns is not kept anywhere
  const down = useVirtualizer({
    count: rows.length,
    getScrollElement,
    estimateSize: () => ROW,
    overscan: BEYOND,
    useFlushSync: false,
    initialOffset: kept.top,
    scrollPaddingStart: HEAD,
    scrollPaddingEnd: FOOT,
  })
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement,
    estimateSize: () => COLUMN,
    overscan: 0,
    useFlushSync: false,
    initialOffset: kept.left,
    scrollPaddingStart: NAMES,
  })
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
    const next = {
      row: Math.min(Math.max(row, 0), rows.length - 1),
      column: Math.min(Math.max(column, 0), columns.length - 1),
    }
    if (isBlock) choosing?.block(here, next)
    down.scrollToIndex(next.row)
    across.scrollToIndex(next.column)
    wanted.current = true
    setAt(next)
  }
  const isResting = ({ row, column }: typeof here) => rows[row]?.levels[column] === null
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
    else if (event.key === ' ' && choosing) choosing.toggle(row, column)
    else if (event.key === 'Escape') choosing?.clear()
    else if ((event.key === 'Enter' || event.key === ' ') && !isResting(here)) open(row, column)
    else return
    event.preventDefault()
  }
  function onClick(event: MouseEvent) {
    const next = cellAt(event.target)
    if (!next) return
    const { row, column } = next
    setAt(next)
    if (isResting(next)) return
    if (choosing && event.shiftKey) choosing.block(here, next)
    else if (choosing && (event.ctrlKey || event.metaKey || choosing.isOn)) choosing.toggle(row, column)
    else open(row, column)
  }
  function onFocus(event: FocusEvent) {
    // By Tab one can come to a cell where one was not yet; a click tells of itself.
    const next = event.target.matches(':focus-visible') && cellAt(event.target)
    if (next) setAt(next)
  }
  const [from, to] = shownRange(across.range, columns.length, BEYOND, TOGETHER)
  const shown = down.getVirtualItems()
  const isDrawn = from <= here.column && here.column < to && shown.some(({ index }) => index === here.row)
  // There is always a way in by Tab, to what is seen if one was far away last.
  const stop = isDrawn ? here : { row: down.range?.startIndex ?? 0, column: from }
  const width = NAMES + across.getTotalSize()
  const size = {
    width,
    '--column': `${COLUMN}px`,
    '--row': `${ROW}px`,
    '--names': `${NAMES}px`,
    '--head': `${HEAD}px`,
    '--foot': `${FOOT}px`,
  } as CSSProperties
  const padding = { scrollPadding: `${HEAD}px 0 ${FOOT}px ${NAMES}px` }
  return (
    <div
      className="wall-scroll"
      ref={frame}
      style={padding}
      onScroll={({ currentTarget: { scrollTop, scrollLeft } }) =>
        places.set(place, { top: scrollTop, left: scrollLeft })
      }
    >
      <div
        className="wall"
        role="grid"
        aria-label={label}
        aria-rowcount={rows.length + 2}
        aria-colcount={columns.length + 1}
        aria-multiselectable={choosing !== undefined}
        onKeyDown={onKey}
        onClick={onClick}
        onFocus={onFocus}
        style={size}
      >
        <Head columns={columns} from={from} to={to} />
        <div className="wall-body" role="rowgroup" style={{ height: down.getTotalSize() }}>
          {shown.map(({ index }) => {
            const row = rows[index]
            if (!row) return null
            return (
              <Row
                key={row.key}
                row={row}
                index={index}
                columns={columns}
                from={from}
                to={to}
                chosen={choosing?.inRow(index) ?? ''}
                tabStop={stop.row === index ? stop.column : -1}
              />
            )
          })}
        </div>
        <div className="wall-names" aria-hidden="true" style={{ height: down.getTotalSize() }}>
          {shown.map(({ index }) => (
            <Name key={rows[index]?.key} row={rows[index]} top={index * ROW} />
          ))}
        </div>
        <Foot columns={columns} from={from} to={to} whole={whole} place={rows.length + 2} />
      </div>
    </div>
  )
}

/** Which cell something is in; none: none. */
function cellAt(target: EventTarget): { row: number; column: number } | null {
  const place = (target as Element).closest<HTMLElement>('[data-cell]')?.dataset.cell
  if (place === undefined) return null
  const [row = 0, column = 0] = place.split(' ').map(Number)
  return { row, column }
}

interface Across {
  columns: GridColumn[]
  /** The first that is drawn, and the first after those. */
  from: number
  to: number
}

const leftOf = (column: number) => ({ left: NAMES + column * COLUMN })

const Head = memo(function Head({ columns, from, to }: Across) {
  return (
    <div role="row" aria-rowindex={1} className="wall-head">
      <span role="columnheader" aria-colindex={1} className="wall-name">
        {t('wall.student')}
      </span>
      {columns.slice(from, to).map(({ key, head, isBeside }, i) => (
        <span
          key={key}
          role="columnheader"
          aria-colindex={from + i + 2}
          className={isBeside ? 'beside' : undefined}
          title={isBeside ? t('wall.sentAsAPassageOfIts') : undefined}
          style={leftOf(from + i)}
        >
          {head}
        </span>
      ))}
    </div>
  )
})

const Foot = memo(function Foot({ columns, from, to, whole, place }: Across & { whole: string; place: number }) {
  return (
    <div role="row" aria-rowindex={place} className="wall-foot">
      <span role="rowheader" aria-colindex={1} className="wall-name">
        {whole}
      </span>
      {columns.slice(from, to).map(({ key, foot }, i) => (
        <span key={key} role="gridcell" aria-colindex={from + i + 2} style={leftOf(from + i)}>
          {foot}
        </span>
      ))}
    </div>
  )
})

const Name = memo(function Name({ row, top }: { row?: GridRow; top: number }) {
  return (
    <span className="wall-name" style={{ top }}>
      {row?.head ?? row?.name}
    </span>
  )
})

interface RowProps extends Across {
  row: GridRow
  index: number
  /** Places of the chosen columns, each between blanks. */
  chosen: string
  tabStop: number
}

/** Up and down only rows come and go: those that stay are not drawn again. */
const Row = memo(function Row({ row, index, columns, from, to, chosen, tabStop }: RowProps) {
  return (
    <div role="row" aria-rowindex={index + 2} className="wall-row" style={{ top: index * ROW }}>
      <span role="rowheader" aria-colindex={1} className="visually-hidden">
        {row.name}
      </span>
      {columns.slice(from, to).map(({ key, name }, i) => {
        const column = from + i
        return (
          <Cell
            key={key}
            row={index}
            column={column}
            of={row.name}
            on={name}
            level={row.levels[column] ?? null}
            seams={row.seams[column] ?? ''}
            isDue={row.due.has(column)}
            isChosen={chosen.includes(` ${column} `)}
            isTabStop={tabStop === column}
            left={NAMES + column * COLUMN}
          />
        )
      })}
    </div>
  )
})
