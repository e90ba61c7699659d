import { Link } from 'react-router'
import { isBeingRead, usePageSets } from '../../shared/hooks/pageSets'
import { t } from '../../words/words'

/** Pages that were brought in and are not a piece yet, and those being read. */
export function PageSets() {
  const sets = usePageSets()
  const open = (sets.data ?? []).filter((one) => one.piece_id === null)
  if (open.length === 0) return null
  return (
    <ul className="page-sets" aria-label={t('music.pagesBroughtIn')}>
      {open.map((one) => (
        <li key={one.id}>
          <Link to={`/pages/${one.id}`}>{one.title || one.files[0]}</Link>{' '}
          <span className="muted">
            {isBeingRead(one.state)
              ? one.total > 0
                ? t('music.readingPages', { done: one.done, of: one.total })
                : t('music.pagesWait')
              : one.state === 'done'
                ? t('music.pagesReady')
                : one.message}
          </span>
        </li>
      ))}
    </ul>
  )
}
