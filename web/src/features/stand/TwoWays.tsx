import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Rate } from 'antd'
import { useEffect, useState } from 'react'
import { ask, said } from '../../api/ask'
import { getWays, rateWay, type WayOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { bpm } from '../../shared/pure/time'
import { t } from '../../words/words'

interface Props {
  itemId: string
  /** The step one stands at: 0 and 1 are the ways, then comes the one that was chosen. */
  step: number
  /** Whether the server has every repetition: then the comparison is asked for again. */
  isHandedIn: boolean
}

/** Two ways compared: what was heard of this one, what is known of both, which one wins. */
export function TwoWays({ itemId, step, isHandedIn }: Props) {
  const client = useQueryClient()
  const key = keys.ways(itemId)
  const found = useQuery({ queryKey: key, queryFn: () => ask(getWays({ path: { item_id: itemId } })) })
  useEffect(() => {
    if (isHandedIn) void client.invalidateQueries({ queryKey: keys.ways(itemId) })
  }, [isHandedIn, client, itemId])
  const [intonation, setIntonation] = useState(0)
  const [tone, setTone] = useState(0)
  const rate = useMutation({
    mutationFn: () =>
      ask(rateWay({ path: { item_id: itemId }, body: { id: crypto.randomUUID(), way: step, intonation, tone } })),
    onSuccess: (now) => {
      client.setQueryData(key, now)
      setIntonation(0)
      setTone(0)
    },
  })
  const way = found.data?.ways[step]
  return (
    <section className="two-ways" aria-label={t('stand.twoWaysCompared')}>
      {way && (
        <p className="two-ways-rate">
          {t('stand.intonationOfName', { name: way.name })}{' '}
          <Rate value={intonation} onChange={setIntonation} aria-label={t('stand.intonationOf', { name: way.name })} />{' '}
          {t('stand.toneLower')}{' '}
          <Rate value={tone} onChange={setTone} aria-label={t('stand.toneOf', { name: way.name })} />
          <Button
            size="small"
            disabled={intonation === 0 || tone === 0}
            loading={rate.isPending}
            onClick={() => rate.mutate()}
          >
            {t('stand.keep')}
          </Button>
        </p>
      )}
      {rate.isError && <p role="alert">{said(rate.error)}</p>}
      {found.data && (
        <>
          <table className="plain">
            <thead>
              <tr>
                <th>{t('stand.way')}</th>
                <th>{t('stand.cleanLower')}</th>
                <th>{t('stand.sureAt')}</th>
                <th>{t('stand.intonation')}</th>
                <th>{t('stand.tone')}</th>
              </tr>
            </thead>
            <tbody>
              {found.data.ways.map((one) => (
                <WayRow key={one.name} way={one} />
              ))}
            </tbody>
          </table>
          <p role="status">{found.data.verdict}</p>
        </>
      )}
    </section>
  )
}

function WayRow({ way }: { way: WayOut }) {
  const stars = (value: number | null) => (value === null ? '–' : value.toFixed(1))
  return (
    <tr>
      <td>{way.name}</td>
      <td>{t('stand.ofOfCleanTries', { clean: way.clean, tries: way.tries })}</td>
      <td>{way.sure_bpm === null ? '–' : bpm(way.sure_bpm)}</td>
      <td>{stars(way.intonation)}</td>
      <td>{stars(way.tone)}</td>
    </tr>
  )
}
