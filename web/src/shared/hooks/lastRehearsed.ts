const KEY = 'crumb.rehearsed'

/** The piece that was rehearsed last, on this device. */
export function lastRehearsed(): string {
  return localStorage.getItem(KEY) ?? ''
}

export function rememberRehearsed(pieceId: string): void {
  localStorage.setItem(KEY, pieceId)
}
