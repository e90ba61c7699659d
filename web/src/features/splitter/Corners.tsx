import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button } from 'antd'
import { ask, said } from '../../api/ask'
import { addMark, listCorners, type ChunkOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { Failed } from '../../shared/ui/states'
import { t } from '../../words/words'

interface Props {
  partId: string
  chunk: ChunkOut | undefined
  goTo: (index: number) => void
}

/** The first and last note of each measure of a chunk, and where their pattern breaks: lean there. */
export function Corners({ partId, chunk, goTo }: Props) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const first = chunk?.start.index ?? 0
  const last = chunk ? chunk.end.index - (chunk.end.at === '0' ? 1 : 0) : 0
  const rows = useQuery({
    queryKey: keys.part.corners(partId, first, last),
    queryFn: () => ask(listCorners({ path: { part_id: partId }, query: { first, last } })),
    enabled: chunk !== undefined,
  })
  const lean = useMutation({
    mutationFn: (index: number) =>
      ask(addMark({ path: { part_id: partId }, body: { kind: 'lean', at: { index, at: '0' } } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.part.marks(partId) })
      await client.invalidateQueries({ queryKey: keys.part.engravings(partId) })
      void message.success(t('splitter.crumbWroteInLeanOnThe'))
    },
    onError: (error) => void message.warning(said(error)),
  })
  if (!chunk) return null
  if (rows.isError) return <Failed error={rows.error} retry={() => void rows.refetch()} />
  if (!rows.data || rows.data.length < 2) return null
  return (
    <details open={rows.data.some((row) => row.breaks)}>
      <summary>{t('splitter.firstAndLastNotesOf', { label: chunk.label })}</summary>
      <table className="plain corners">
        <thead>
          <tr>
            <th>{t('splitter.measure')}</th>
            <th>{t('splitter.first')}</th>
            <th>{t('splitter.last')}</th>
          </tr>
        </thead>
        <tbody>
          {rows.data.map((row) => (
            <tr key={row.index} className={row.breaks ? 'breaks' : ''}>
              <td>
                <Button type="link" size="small" onClick={() => goTo(row.index)}>
                  {row.number}
                </Button>
              </td>
              <td>{pretty(row.first)}</td>
              <td>{pretty(row.last)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.data
        .filter((row) => row.breaks)
        .map((row) => (
          <p key={row.index}>
            {t('splitter.at', { number: row.number, breaks: row.breaks })}{' '}
            <Button size="small" loading={lean.isPending} onClick={() => lean.mutate(row.index)}>
              {t('splitter.leanOnBeat1Of', { number: row.number })}
            </Button>
          </p>
        ))}
    </details>
  )
}

function pretty(name: string): string {
  return name.replace('#', '♯').replace(/b(?=\d|b)/g, '♭')
}
