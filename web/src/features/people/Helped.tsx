import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { ask } from '../../api/ask'
import { getHelped } from '../../api/gen'
import { keys } from '../../api/keys'
import { day } from '../../shared/lib/time'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import './people.css'

/** What a helper has to do: the sheets of one student. */
export default function Helped() {
  const helped = useQuery({ queryKey: keys.helped, queryFn: () => ask(getHelped()) })
  if (helped.isPending) return <Loading what="Looking for sheets" />
  if (helped.isError) return <Failed error={helped.error} retry={() => void helped.refetch()} />
  return (
    <div className="page narrow">
      <h1>{helped.data.name}</h1>
      {helped.data.sheets.length === 0 ? (
        <Empty title="No sheet yet">
          <p>When practice sheets are printed, you type in here what was ticked on them.</p>
        </Empty>
      ) : (
        <ul>
          {helped.data.sheets.map((sheet) => (
            <li key={sheet.code}>
              <Link to={`/sheets/${sheet.code}`}>Sheet {sheet.code}</Link>{' '}
              <span className="muted">due {day(sheet.due_on)}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
