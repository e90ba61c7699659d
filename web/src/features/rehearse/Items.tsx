import type { RehearsalItemOut } from '../../api/gen'
import { inWords, keysInWords } from './words'

/** The lines of a plan: minutes, place, what everybody does, and why. */
export function Items({ items }: { items: RehearsalItemOut[] }) {
  return (
    <ol className="rehearsal">
      {items.map((item, place) => (
        <li key={place} className={item.kind}>
          <span className="mins">
            <strong>{item.minutes}</strong> min
          </span>
          <div>
            <h3>
              {item.name}
              {item.drill && <small> {item.drill.title}</small>}
              {item.tempo_bpm !== null && item.kind === 'work' && <small> at {item.tempo_bpm}</small>}
            </h3>
            <p>{item.do}</p>
            {item.drill && (
              <p className="muted">
                {item.drill.times} in a row. Percussion: {item.drill.percussion}
              </p>
            )}
            {item.written.length > 0 && <p className="muted">Written: {keysInWords(item.written)}</p>}
            <p className="why">{item.why}</p>
            {item.meanwhile.length > 0 && (
              <details>
                <summary>Meanwhile</summary>
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
