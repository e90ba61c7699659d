import { useQuery } from '@tanstack/react-query'
import { ask } from '../../api/ask'
import { listMySectionals } from '../../api/gen'
import { keys } from '../../api/keys'
import { day } from '../../shared/pure/time'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

/** What a section leader has to lead next; nothing for anybody else. */
export function Sectionals() {
  const led = useQuery({ queryKey: keys.sectionals, queryFn: () => ask(listMySectionals()) })
  if (!led.data || led.data.length === 0) return null
  return (
    <section aria-label={t('mymusic.sectionalsYouLead')}>
      <h2>{t('mymusic.youLead')}</h2>
      {led.data.map((one) => (
        <details key={one.id} open={one === led.data[0]}>
          <summary>
            <Say
              it="mymusic.minutes"
              values={{ day: day(one.day), section: one.section, title: one.title, minutes: one.minutes }}
              components={[<strong />]}
            />
          </summary>
          <ol>
            {one.items.map((item, place) => (
              <li key={place}>
                <strong>{item.name}</strong> {t('mymusic.min', { minutes: item.minutes })}
                {item.tempo_bpm !== null && item.kind === 'work' && t('mymusic.at', { tempoBpm: item.tempo_bpm })}
                {item.drill && t('mymusic.inARow', { title: item.drill.title, times: item.drill.times })}. {item.do}
              </li>
            ))}
          </ol>
        </details>
      ))}
    </section>
  )
}
