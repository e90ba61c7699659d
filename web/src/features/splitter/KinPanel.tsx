import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, Button, Empty, Segmented } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { judgeKin, type ChunkOut, type KinOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

interface Props {
  partId: string
  kin: KinOut[]
  chunk: ChunkOut | undefined
  chosen: string
  choose: (link: KinOut) => void
  cutDifference: (kinId: string) => void
}

const SHOWN = 60

/** Links between places that are alike: look, confirm, refuse, drill what differs. */
export function KinPanel({ partId, kin, chunk, chosen, choose, cutDifference }: Props) {
  const [where, setWhere] = useState<'here' | 'all'>('all')
  const { message } = App.useApp()
  const client = useQueryClient()
  const judge = useMutation({
    mutationFn: ({ id, verdict }: { id: string; verdict: KinOut['verdict'] }) =>
      ask(judgeKin({ path: { kin_id: id }, body: { verdict } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.part.similarity(partId) }),
    onError: (error) => void message.warning(said(error)),
  })
  const touches = (link: KinOut) =>
    chunk &&
    [link.a, link.b].some(
      (end) => end.part_id === partId && end.first <= chunk.end.index && end.last >= chunk.start.index,
    )
  const shown = where === 'all' ? kin : kin.filter(touches)
  return (
    <div className="panel">
      <Segmented
        aria-label={t('splitter.similarPassagesToShow')}
        value={where}
        onChange={setWhere}
        options={[
          { value: 'all', label: t('splitter.all', { kinCount: kin.length }) },
          { value: 'here', label: t('splitter.thisChunk') },
        ]}
      />
      {shown.length === 0 && (
        <Empty image={Empty.PRESENTED_IMAGE_SIMPLE} description={t('splitter.noSimilarPassagesHere')} />
      )}
      <ul className="kin-list">
        {shown.slice(0, SHOWN).map((link) => (
          <li
            key={link.id}
            className={`kin ${link.verdict ?? ''} ${link.id === chosen ? 'chosen' : ''}`}
            data-relation={link.relation}
          >
            <button type="button" className="kin-look" onClick={() => choose(link)} aria-pressed={link.id === chosen}>
              <Say
                it="splitter.isLike"
                values={{ b: place(link.b, partId), a: place(link.a, partId), text: link.text }}
                components={[<strong />, <strong />, <small />]}
              />
            </button>
            <span className="tool-group">
              {link.verdict ? (
                <>
                  <em>{link.verdict}</em>
                  <Button size="small" type="link" onClick={() => judge.mutate({ id: link.id, verdict: null })}>
                    {t('splitter.undo')}
                  </Button>
                </>
              ) : (
                <>
                  <Button size="small" onClick={() => judge.mutate({ id: link.id, verdict: 'confirmed' })}>
                    {t('splitter.confirm')}
                  </Button>
                  <Button size="small" onClick={() => judge.mutate({ id: link.id, verdict: 'refused' })}>
                    {t('splitter.reject')}
                  </Button>
                </>
              )}
              {link.differs > 0 && link.b.part_id === partId && (
                <Button size="small" type="link" onClick={() => cutDifference(link.id)}>
                  {t('splitter.differenceAsAChunk')}
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {shown.length > SHOWN && (
        <p className="muted">{t('splitter.andMoreChooseAChunkTo', { more: shown.length - SHOWN })}</p>
      )}
    </div>
  )
}

function place(end: KinOut['a'], partId: string): string {
  return end.part_id === partId ? end.label : t('splitter.of', { label: end.label, part: end.part })
}
