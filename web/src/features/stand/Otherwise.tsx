import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Button } from 'antd'
import { useNavigate } from 'react-router'
import { ask, said } from '../../api/ask'
import { takeInstead, type OtherOut, type StandOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { bpm } from '../../shared/pure/time'
import { t } from '../../words/words'

interface Props {
  stand: StandOut
  stalledAt: number | null
  isBored: boolean
  close: () => void
}

/** Where the ladder stalls another school; against boredom the same work in another way. */
export function Otherwise({ stand, stalledAt, isBored, close }: Props) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const take = useMutation({
    mutationFn: (drill: string) => ask(takeInstead({ path: { item_id: stand.item.item_id }, body: { drill } })),
    onSuccess: ({ item_id }) => {
      void client.invalidateQueries({ queryKey: keys.today })
      void navigate(`/stand/${item_id}`, { replace: true })
    },
  })
  const others: OtherOut[] = stalledAt !== null ? stand.stalled : isBored ? stand.bored : []
  if (stalledAt === null && !isBored) return null
  return (
    <section className="otherwise" aria-label={t('stand.anotherDrill')}>
      <p>
        {stalledAt !== null
          ? t('stand.youCameDownTwiceFromAnother', { stalledAt: bpm(stalledAt) })
          : others.length > 0
            ? t('stand.theseDrillsDoTheSameWork')
            : t('stand.noOtherDrillDoesTheSame')}
      </p>
      {others.map((other) => (
        <div key={other.drill} className="other">
          <Button
            size="small"
            loading={take.isPending && take.variables === other.drill}
            disabled={take.isPending}
            onClick={() => take.mutate(other.drill)}
          >
            {other.title}
          </Button>
          <span>{other.why}</span>
        </div>
      ))}
      <Button size="small" type="text" onClick={close}>
        {t('stand.stayWithThisDrill')}
      </Button>
      {take.isError && <p role="alert">{said(take.error)}</p>}
    </section>
  )
}
