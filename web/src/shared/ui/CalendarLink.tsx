import { useMutation } from '@tanstack/react-query'
import { Alert, Button } from 'antd'
import { ask, said } from '../../api/ask'
import { endCalendar, makeCalendar } from '../../api/gen'
import { t } from '../../words/words'

/** A private address for a calendar program, made when it is asked for. */
export function CalendarLink() {
  const make = useMutation({ mutationFn: () => ask(makeCalendar()) })
  const end = useMutation({ mutationFn: () => ask(endCalendar()), onSuccess: () => make.reset() })
  const address = make.data ? `${window.location.origin}${make.data.path}` : ''
  const error = make.error ?? end.error
  return (
    <details className="ahead">
      <summary>{t('shared.inYourOwnCalendar')}</summary>
      {address === '' && (
        <Button size="small" loading={make.isPending} onClick={() => make.mutate()}>
          {t('shared.showTheAddress')}
        </Button>
      )}
      {address !== '' && (
        <>
          <p>
            {t('shared.subscribeToThisAddressInYour')}
            <br />
            <strong className="code calendar-address">{address}</strong>
          </p>
          <Button size="small" loading={end.isPending} onClick={() => end.mutate()}>
            {t('shared.cancelTheAddress')}
          </Button>
        </>
      )}
      {error && <Alert type="error" showIcon role="alert" title={said(error)} />}
    </details>
  )
}
