import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { ask } from '../../api/ask'
import { getMyMap, type LastHearingOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { LevelMark } from '../../shared/ui/LevelMark'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { Leading } from './Leading'
import { Sectionals } from './Sectionals'
import { useHasTakes } from '../../shared/hooks/useTakes'
import { Place } from '../../shared/ui/Place'
import { t } from '../../words/words'
import './mymusic.css'

/** What somebody said who listened: first what went well, then one thing. */
function SaidOf({ heard }: { heard: LastHearingOut | null }) {
  if (heard === null) return null
  const thing = heard.one_thing && t('mymusic.then', { oneThing: heard.one_thing })
  const missing =
    heard.missing.length > 0 && t('mymusic.stillMissing', { missing: heard.missing.join(', ').toLowerCase() })
  return (
    <small>
      {[t('mymusic.heardYou', { by: heard.by }), heard.went_well, thing, missing].filter(Boolean).join(' ')}
    </small>
  )
}

export default function MyMusic() {
  const hasTakes = useHasTakes()
  const map = useQuery({ queryKey: keys.myMap, queryFn: () => ask(getMyMap()) })
  if (map.isPending) return <Loading what={t('mymusic.loadingYourMusic')} />
  if (map.isError) return <Failed error={map.error} retry={() => void map.refetch()} />
  return (
    <div className="page narrow">
      <h1>{t('mymusic.myMusic')}</h1>
      <Sectionals />
      <Leading />
      {map.data.length === 0 && (
        <Empty title={t('mymusic.noMusicYet')}>
          <p>{t('mymusic.partsThatYourDirectorSendsYou')}</p>
        </Empty>
      )}
      {map.data.map((part) => (
        <section key={part.part_id}>
          <h2>{part.title}</h2>
          <p className="muted">{part.part}</p>
          <p>
            <Link to={`/map/${part.part_id}`}>{t('mymusic.lookAndMark')}</Link>
          </p>
          <ul className="my-chunks">
            {part.chunks.map((chunk, i) => (
              <li key={chunk.id}>
                <LevelMark level={part.cells[i]?.level ?? 0} />
                <span>
                  <strong>
                    <Place name={chunk.label} />
                  </strong>
                  <small>{part.cells[i]?.why}</small>
                  <SaidOf heard={part.heard[i] ?? null} />
                  {part.cells[i]?.next && <small>{t('mymusic.next', { next: part.cells[i].next })}</small>}
                  {hasTakes && (
                    <small>
                      <Link to={`/takes?part=${part.part_id}&chunk=${chunk.id}`}>{t('mymusic.recordIt')}</Link>
                    </small>
                  )}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </div>
  )
}
