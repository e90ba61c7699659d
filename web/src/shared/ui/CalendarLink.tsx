import { useMutation } from '@tanstack/react-query'
import { Alert, Button } from 'antd'
import { ask, said } from '../../api/ask'
import { endCalendar, makeCalendar } from '../../api/gen'

/** A private address for a calendar program, made when it is asked for. */
export function CalendarLink() {
  const make = useMutation({ mutationFn: () => ask(makeCalendar()) })
  const end = useMutation({ mutationFn: () => ask(endCalendar()), onSuccess: () => make.reset() })
  const address = make.data ? `${window.location.origin}${make.data.path}` : ''
  const error = make.error ?? end.error
  return (
    <details className="ahead">
      <summary>In your own calendar</summary>
      {address === '' && (
        <Button size="small" loading={make.isPending} onClick={() => make.mutate()}>
          Show the address
        </Button>
      )}
      {address !== '' && (
        <>
          <p>
            Subscribe to this address; days follow the plan. Whoever has it reads them: keep it to yourself.
            <br />
            <strong className="code calendar-address">{address}</strong>
          </p>
          <Button size="small" loading={end.isPending} onClick={() => end.mutate()}>
            Take the address back
          </Button>
        </>
      )}
      {error && <Alert type="error" showIcon role="alert" title={said(error)} />}
    </details>
  )
}
