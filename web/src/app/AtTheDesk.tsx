import { App as AntApp } from 'antd'
import type { ComponentProps } from 'react'
import { WithRights } from '../shared/lib/rights'
import { DirectorShell } from './Shell'

/** The director's side, with the messages that only it shows: a student's device does not carry them. */
export default function AtTheDesk(props: ComponentProps<typeof DirectorShell>) {
  return (
    <AntApp>
      <WithRights value={props.me.rights}>
        <DirectorShell {...props} />
      </WithRights>
    </AntApp>
  )
}
