import { useEffect, useState } from 'react'
import { flushSync } from 'react-dom'
import type { GridColumn, GridRow } from './Grid'
import { t } from '../../words/words'

interface Props {
  title: string
  columns: GridColumn[]
  rows: GridRow[]
}

const WIDE = 760
const HIGH = 470

/** The whole wall as numbers on one page, as large as it can be; made only when somebody prints. */
export function Printed({ title, columns, rows }: Props) {
  const [isPrinting, setPrinting] = useState(false)
  useEffect(() => {
    const begin = () => flushSync(() => setPrinting(true))
    const end = () => setPrinting(false)
    window.addEventListener('beforeprint', begin)
    window.addEventListener('afterprint', end)
    return () => {
      window.removeEventListener('beforeprint', begin)
      window.removeEventListener('afterprint', end)
    }
  }, [])
  if (!isPrinting) return null
  // A number takes about two and a half ems, a line one and a third; names take eight.
  const size = Math.min(10, WIDE / (columns.length * 2.5 + 8), HIGH / ((rows.length + 4) * 1.35))
  return (
    <>
      <style>{'@page { size: landscape; margin: 10mm }'}</style>
      <table className="wall-print" style={{ fontSize: `${size}pt` }}>
        <caption>{title}</caption>
        <thead>
          <tr>
            <th scope="col">{t('wall.student')}</th>
            {columns.map((column) => (
              <th key={column.key} scope="col">
                {column.head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.key}>
              <th scope="row">{row.name}</th>
              {row.levels.map((level, i) => (
                <td key={columns[i]?.key} className={level === null ? '' : `printed-${level}`}>
                  {level ?? '–'}
                  {row.due.has(i) && '*'}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}
