import { Button } from 'antd'
import { useSyncExternalStore } from 'react'
import { newVersion } from './update'

/** A new version is offered between two things, never in the middle of one. */
export function NewVersion() {
  const isWaiting = useSyncExternalStore(newVersion.watch, newVersion.isWaiting)
  if (!isWaiting) return null
  return (
    <p className="new-version" role="status">
      There is a new version of Crumb.{' '}
      <Button size="small" onClick={newVersion.take}>
        Open it now
      </Button>
    </p>
  )
}
