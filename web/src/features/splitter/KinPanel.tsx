import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, Button, Empty, Segmented } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { judgeKin, type ChunkOut, type KinOut } from '../../api/gen'
import { keys } from '../../api/keys'

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
        aria-label="Which links"
        value={where}
        onChange={setWhere}
        options={[
          { value: 'all', label: `All ${kin.length}` },
          { value: 'here', label: 'This chunk' },
        ]}
      />
      {shown.length === 0 && (
        <Empty image={Empty.PRESENTED_IMAGE_SIMPLE} description="Nothing here is like anything else." />
      )}
      <ul className="kin-list">
        {shown.slice(0, SHOWN).map((link) => (
          <li
            key={link.id}
            className={`kin ${link.verdict ?? ''} ${link.id === chosen ? 'chosen' : ''}`}
            data-relation={link.relation}
          >
            <button type="button" className="kin-look" onClick={() => choose(link)} aria-pressed={link.id === chosen}>
              <strong>{place(link.b, partId)}</strong> is like <strong>{place(link.a, partId)}</strong>
              <small>{link.text}</small>
            </button>
            <span className="tool-group">
              {link.verdict ? (
                <>
                  <em>{link.verdict}</em>
                  <Button size="small" type="link" onClick={() => judge.mutate({ id: link.id, verdict: null })}>
                    Undo
                  </Button>
                </>
              ) : (
                <>
                  <Button size="small" onClick={() => judge.mutate({ id: link.id, verdict: 'confirmed' })}>
                    Confirm
                  </Button>
                  <Button size="small" onClick={() => judge.mutate({ id: link.id, verdict: 'refused' })}>
                    Refuse
                  </Button>
                </>
              )}
              {link.differs > 0 && link.b.part_id === partId && (
                <Button size="small" type="link" onClick={() => cutDifference(link.id)}>
                  Difference as a chunk
                </Button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {shown.length > SHOWN && <p className="muted">And {shown.length - SHOWN} more; choose a chunk to see its own.</p>}
    </div>
  )
}

function place(end: KinOut['a'], partId: string): string {
  return end.part_id === partId ? end.label : `${end.label} of ${end.part}`
}
