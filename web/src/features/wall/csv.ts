import type { WallOut } from '../../api/gen'
import { download, quoted } from '../../shared/hooks/csv'
import { t } from '../../words/words'

/** One line a student, one column a chunk. */
export function wallCsv(wall: WallOut): string {
  const head = [t('wall.student'), ...wall.chunks.map((c) => c.label)].map(quoted).join(',')
  const rows = wall.rows.map((row) => [quoted(row.name), ...row.levels.map(String)].join(','))
  return [head, ...rows].join('\r\n') + '\r\n'
}

export function downloadCsv(wall: WallOut): void {
  download('wall.csv', wallCsv(wall))
}
