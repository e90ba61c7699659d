import { useQuery } from '@tanstack/react-query'
import { Select } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { ask } from '../../api/ask'
import { listTags, searchTag } from '../../api/gen'
import { keys } from '../../api/keys'
import { Failed } from '../../shared/ui/states'
import { t } from '../../words/words'

/** Where in all the music a technique is asked for. */
export function TagSearch() {
  const [tag, setTag] = useState<string | null>(null)
  const all = useQuery({ queryKey: keys.tagNames, queryFn: () => ask(listTags()), staleTime: Infinity })
  const found = useQuery({
    queryKey: keys.tagged(tag),
    queryFn: () => ask(searchTag({ path: { tag: tag ?? '' } })),
    enabled: tag !== null,
  })
  return (
    <section className="tag-search" aria-label={t('music.chunksByTechnique')}>
      <Select
        allowClear
        showSearch={{ optionFilterProp: 'label' }}
        value={tag}
        onChange={(value: string | undefined) => setTag(value ?? null)}
        placeholder={t('music.findChunksByTechnique')}
        aria-label={t('music.findChunksByTechnique')}
        style={{ width: 260 }}
        options={(all.data ?? []).map((one) => ({ value: one.tag, label: one.name }))}
      />
      {found.isError && <Failed error={found.error} retry={() => void found.refetch()} />}
      {tag !== null && found.data?.length === 0 && <p className="muted">{t('music.noChunkOfYourMusicNeeds')}</p>}
      {tag !== null && found.data && found.data.length > 0 && (
        <ul className="tag-found">
          {found.data.map((one) => (
            <li key={one.chunk.id}>
              <Link to={`/parts/${one.part_id}/split`}>{one.chunk.label}</Link>{' '}
              <span className="muted">
                {one.piece}, {one.part}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
