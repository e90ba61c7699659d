import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Select, Tag } from 'antd'
import { ask, said } from '../../api/ask'
import { getChunkTags, listTags, sayTag, type ChunkOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { Failed } from '../../shared/ui/states'
import { t } from '../../words/words'

/** The techniques that the chunk at the cursor asks for: found by the survey, added or taken off by hand. */
export function ChunkTags({ partId, chunk }: { partId: string; chunk: ChunkOut | undefined }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const all = useQuery({ queryKey: keys.tagNames, queryFn: () => ask(listTags()), staleTime: Infinity })
  const tags = useQuery({
    queryKey: keys.part.chunkTags(partId, chunk?.id),
    queryFn: () => ask(getChunkTags({ path: { part_id: partId, chunk_id: chunk?.id ?? '' } })),
    enabled: chunk !== undefined,
  })
  const say = useMutation({
    mutationFn: ({ tag, on }: { tag: string; on: boolean }) =>
      ask(sayTag({ path: { part_id: partId, chunk_id: chunk?.id ?? '', tag }, body: { on } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.part.tags(partId) }),
    onError: (error) => void message.warning(said(error)),
  })
  if (!chunk) return <p className="muted">{t('splitter.splitThePartToSeeWhat')}</p>
  if (tags.isError) return <Failed error={tags.error} retry={() => void tags.refetch()} />
  const here = tags.data?.tags ?? []
  const others = (all.data ?? []).filter((one) => !here.some((tag) => tag.tag === one.tag))
  return (
    <section aria-label={t('splitter.techniquesOf', { label: chunk.label })}>
      <h3>{t('splitter.needs', { label: chunk.label })}</h3>
      <p className="chunk-tags">
        {here.map((tag) => (
          <Tag
            key={tag.tag}
            closable={{ 'aria-label': t('splitter.remove', { name: tag.name }) }}
            onClose={(event) => {
              event.preventDefault()
              say.mutate({ tag: tag.tag, on: false })
            }}
          >
            {tag.name}
            {tag.by_hand && <span className="visually-hidden"> {t('splitter.addedByHand')}</span>}
          </Tag>
        ))}
        {here.length === 0 && tags.isSuccess && <span className="muted">{t('splitter.nothingSpecial')}</span>}
      </p>
      <Select
        size="small"
        showSearch={{ optionFilterProp: 'label' }}
        value={null}
        placeholder={t('splitter.addATechnique')}
        aria-label={t('splitter.addATechnique')}
        style={{ width: '100%' }}
        options={others.map((one) => ({ value: one.tag, label: one.name }))}
        onChange={(tag: string | null) => tag && say.mutate({ tag, on: true })}
      />
    </section>
  )
}
