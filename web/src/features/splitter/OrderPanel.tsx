import { Button, Select } from 'antd'
import type { ChunkOut, MapOut } from '../../api/gen'
import type { Wish } from './useChunkEdits'
import { t } from '../../words/words'

type Kind = MapOut['order']['kind']

const KINDS: { value: Kind; label: string }[] = [
  { value: 'front', label: t('splitter.frontToBack') },
  { value: 'hardest', label: t('splitter.hardestFirst') },
  { value: 'back', label: t('splitter.backToFront') },
  { value: 'foundation', label: t('splitter.foundationFirst') },
  { value: 'hand', label: t('splitter.byHand') },
]

interface Props {
  map: MapOut
  apply: (wish: Wish) => void
  goTo: (chunk: ChunkOut) => void
}

/** In which order the chunks are learned, and why. */
export function OrderPanel({ map, apply, goTo }: Props) {
  const byId = new Map(map.chunks.map((chunk) => [chunk.id, chunk]))
  const ids = map.order.chunk_ids
  function move(place: number, by: number) {
    const next = [...ids]
    const [taken] = next.splice(place, 1)
    if (taken) next.splice(place + by, 0, taken)
    apply({ op: 'order', kind: 'hand', by_hand: next })
  }
  if (map.chunks.length === 0) return <p className="panel muted">{t('splitter.splitThePartFirst')}</p>
  return (
    <div className="panel">
      <label className="field">
        {t('splitter.orderOfLearning')}
        <Select<Kind>
          aria-label={t('splitter.orderOfLearning')}
          value={map.order.kind}
          options={KINDS}
          onChange={(kind) => apply({ op: 'order', kind, by_hand: kind === 'hand' ? ids : [] })}
        />
      </label>
      <p>{map.order.why}</p>
      <ol className="order">
        {ids.map((id, place) => {
          const chunk = byId.get(id)
          return (
            chunk && (
              <li key={id}>
                <span className="order-place">{place + 1}</span>
                <Button type="link" size="small" onClick={() => goTo(chunk)}>
                  {chunk.label}
                </Button>
                <span>
                  <Button
                    size="small"
                    aria-label={t('splitter.earlier', { label: chunk.label })}
                    disabled={place === 0}
                    onClick={() => move(place, -1)}
                  >
                    ↑
                  </Button>
                  <Button
                    size="small"
                    aria-label={t('splitter.later', { label: chunk.label })}
                    disabled={place === ids.length - 1}
                    onClick={() => move(place, 1)}
                  >
                    ↓
                  </Button>
                </span>
              </li>
            )
          )
        })}
      </ol>
    </div>
  )
}
