import { useQuery } from '@tanstack/react-query'
import { ask } from '../../api/ask'
import { listMySectionals } from '../../api/gen'
import { keys } from '../../api/keys'
import { day } from '../../shared/lib/time'

/** What a section leader has to lead next; nothing for anybody else. */
export function Sectionals() {
  const led = useQuery({ queryKey: keys.sectionals, queryFn: () => ask(listMySectionals()) })
  if (!led.data || led.data.length === 0) return null
  return (
    <section aria-label="Sectionals you lead">
      <h2>You lead</h2>
      {led.data.map((one) => (
        <details key={one.id} open={one === led.data[0]}>
          <summary>
            <strong>{day(one.day)}</strong>: {one.section}, {one.title}, {one.minutes} minutes
          </summary>
          <ol>
            {one.items.map((item, place) => (
              <li key={place}>
                <strong>{item.name}</strong> {item.minutes} min
                {item.tempo_bpm !== null && item.kind === 'work' && ` at ${item.tempo_bpm}`}
                {item.drill && `, ${item.drill.title}, ${item.drill.times} in a row`}. {item.do}
              </li>
            ))}
          </ol>
        </details>
      ))}
    </section>
  )
}
