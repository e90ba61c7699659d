import { App as AntApp } from 'antd'
import { useEffect, type ComponentProps } from 'react'
import { WithRights } from '../shared/hooks/rights'
import { DirectorShell } from './Shell'

/** What is gone to from anywhere: read while nothing else is to be done, so that a click only has to ask for data. */
const AHEAD = [() => import('../features/wall/Wall'), () => import('../features/hearing/Hearing')]

/** The director's side, with the messages that only it shows: a student's device does not carry them. */
export default function AtTheDesk(props: ComponentProps<typeof DirectorShell>) {
  const hears = props.me.rights.includes('hear')
  useEffect(() => {
    if (!hears || !('requestIdleCallback' in window)) return
    const asked = window.requestIdleCallback(() => AHEAD.forEach((page) => void page().catch(() => undefined)))
    return () => window.cancelIdleCallback(asked)
  }, [hears])
  return (
    <AntApp>
      <WithRights value={props.me.rights}>
        <DirectorShell {...props} />
      </WithRights>
    </AntApp>
  )
}
