import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { ask } from '../../api/ask'
import { getHelped } from '../../api/gen'
import { keys } from '../../api/keys'
import { day } from '../../shared/pure/time'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'
import './people.css'

/** What a helper has to do: the sheets of one student. */
export default function Helped() {
  const helped = useQuery({ queryKey: keys.helped, queryFn: () => ask(getHelped()) })
  if (helped.isPending) return <Loading what={t('people.loadingSheets')} />
  if (helped.isError) return <Failed error={helped.error} retry={() => void helped.refetch()} />
  return (
    <div className="page narrow">
      <h1>{helped.data.name}</h1>
      {helped.data.sheets.length === 0 ? (
        <Empty title={t('people.noSheetYet')}>
          <p>{t('people.whenTheDirectorPrintsPracticeSheets')}</p>
        </Empty>
      ) : (
        <ul>
          {helped.data.sheets.map((sheet) => (
            <li key={sheet.code}>
              <Link to={`/sheets/${sheet.code}`}>{t('people.sheet', { code: sheet.code })}</Link>{' '}
              <span className="muted">{t('people.due', { dueOn: day(sheet.due_on) })}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
