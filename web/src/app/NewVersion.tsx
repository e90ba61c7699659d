import { Button } from 'antd'
import { useSyncExternalStore } from 'react'
import { newVersion } from './update'
import { t } from '../words/words'

/** A new version is offered between two things, never in the middle of one. */
export function NewVersion() {
  const isWaiting = useSyncExternalStore(newVersion.watch, newVersion.isWaiting)
  if (!isWaiting) return null
  return (
    <p className="new-version" role="status">
      {t('app.aNewVersionOfCrumbIs')}{' '}
      <Button size="small" onClick={newVersion.take}>
        {t('app.openItNow')}
      </Button>
    </p>
  )
}
