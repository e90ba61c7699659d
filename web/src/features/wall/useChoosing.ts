import { useState } from 'react'

export interface CellAt {
  row: number
  column: number
}

export interface Choosing {
  /** Whether a plain click chooses instead of opening: for fingers, which have no Shift. */
  isOn: boolean
  setOn: (isOn: boolean) => void
  cells: CellAt[]
  /** The columns that are chosen in a row, each between blanks; nothing: none. */
  inRow: (row: number) => string
  toggle: (row: number, column: number) => void
  /** Everything between two cells is chosen too. */
  block: (from: CellAt, to: CellAt) => void
  clear: () => void
}

const nameOf = (row: number, column: number) => `${row} ${column}`

/** Several cells at once: by Space, by Ctrl and a click, or a block with Shift. */
export function useChoosing(): Choosing {
  const [isOn, setOn] = useState(false)
  const [chosen, setChosen] = useState<ReadonlyMap<string, CellAt>>(new Map())
  return {
    isOn,
    setOn,
    cells: [...chosen.values()],
    inRow: (row) => [...chosen.values()].flatMap((cell) => (cell.row === row ? ` ${cell.column} ` : [])).join(''),
    toggle: (row, column) => {
      const next = new Map(chosen)
      if (!next.delete(nameOf(row, column))) next.set(nameOf(row, column), { row, column })
      setChosen(next)
    },
    block: (from, to) => {
      const next = new Map(chosen)
      for (let row = Math.min(from.row, to.row); row <= Math.max(from.row, to.row); row++)
        for (let column = Math.min(from.column, to.column); column <= Math.max(from.column, to.column); column++)
          next.set(nameOf(row, column), { row, column })
      setChosen(next)
    },
    clear: () => setChosen(new Map()),
  }
}
