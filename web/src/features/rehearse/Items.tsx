import type { RehearsalItemOut } from '../../api/gen'
import { inWords, keysInWords } from './words'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

/** The lines of a plan: minutes, place, what everybody does, and why. */
export function Items({ items }: { items: RehearsalItemOut[] }) {
  return (
    <ol className="rehearsal">
      {items.map((item, place) => (
        <li key={place} className={item.kind}>
          <span className="mins">
            <Say it="rehearse.min" values={{ minutes: item.minutes }} components={[<strong />]} />
          </span>
          <div>
            <h3>
              {item.name}
              {item.drill && <small> {item.drill.title}</small>}
              {item.tempo_bpm !== null && item.kind === 'work' && (
                <small> {t('rehearse.atOfTempoBpm', { tempoBpm: item.tempo_bpm })}</small>
              )}
            </h3>
            <p>{item.do}</p>
            {item.drill && (
              <p className="muted">
                {t('rehearse.inARowPercussion', { times: item.drill.times, percussion: item.drill.percussion })}
              </p>
            )}
            {item.written.length > 0 && (
              <p className="muted">{t('rehearse.written', { written: keysInWords(item.written) })}</p>
            )}
            <p className="why">{item.why}</p>
            {item.meanwhile.length > 0 && (
              <details>
                <summary>{t('rehearse.meanwhile')}</summary>
                <ul>
                  {inWords(item.meanwhile).map(({ say, who }) => (
                    <li key={say}>
                      <strong>{who}:</strong> {say}
                    </li>
                  ))}
                </ul>
              </details>
            )}
          </div>
        </li>
      ))}
    </ol>
  )
}
