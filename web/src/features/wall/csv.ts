import type { WallOut } from '../../api/gen'

/** One line a student, one column a chunk; a cell that a spreadsheet could run is quoted as text. */
export function wallCsv(wall: WallOut): string {
  const quote = (text: string) => `"${(/^[=+\-@\t]/.test(text) ? `'${text}` : text).replaceAll('"', '""')}"`
  const head = ['Student', ...wall.chunks.map((c) => c.label)].map(quote).join(',')
  const rows = wall.rows.map((row) => [quote(row.name), ...row.cells.map((cell) => String(cell.level))].join(','))
  return [head, ...rows].join('\r\n') + '\r\n'
}

export function downloadCsv(wall: WallOut): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([wallCsv(wall)], { type: 'text/csv;charset=utf-8' }))
  link.download = 'wall.csv'
  link.click()
  URL.revokeObjectURL(link.href)
}
