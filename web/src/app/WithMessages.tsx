import { App as AntApp } from 'antd'
import { Outlet } from 'react-router'

/** Pages that say what became of something in a message; what practice needs does without. */
export default function WithMessages() {
  return (
    <AntApp>
      <Outlet />
    </AntApp>
  )
}
