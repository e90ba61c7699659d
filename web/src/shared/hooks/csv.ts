/** A field that a spreadsheet could run is quoted as text. */
export function quoted(text: string): string {
  return `"${(/^[=+\-@\t]/.test(text) ? `'${text}` : text).replaceAll('"', '""')}"`
}

export function csvOf(rows: string[][]): string {
  return rows.map((row) => row.map(quoted).join(',')).join('\r\n') + '\r\n'
}

export function download(name: string, csv: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([csv], { type: 'text/csv;charset=utf-8' }))
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
