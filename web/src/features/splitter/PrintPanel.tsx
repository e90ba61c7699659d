import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { getPageMap, setPageMap, type PageMapOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { Failed } from '../../shared/ui/states'
import { useWords } from '../../shared/lib/words'

/** Where the lines and pages of the players' own print start, so that "second from the end of line 4" is found. */
export function PrintPanel({ partId }: { partId: string }) {
  const lines = useQuery({
    queryKey: keys.part.lines(partId),
    queryFn: () => ask(getPageMap({ path: { part_id: partId } })),
  })
  if (lines.isError) return <Failed error={lines.error} retry={() => void lines.refetch()} />
  if (!lines.data) return null
  return <PrintForm key={JSON.stringify(lines.data)} partId={partId} known={lines.data} />
}

function PrintForm({ partId, known }: { partId: string; known: PageMapOut }) {
  const [starts, setStarts] = useState(known.lines.join(', '))
  const [pages, setPages] = useState(known.pages.join(', '))
  const client = useQueryClient()
  const w = useWords()
  const keep = useMutation({
    mutationFn: (said: { lines: string; pages: string }) => ask(setPageMap({ path: { part_id: partId }, body: said })),
    onSuccess: async (data) => {
      client.setQueryData(keys.part.lines(partId), data)
      await client.invalidateQueries({ queryKey: keys.part.engravings(partId) })
    },
  })
  const isChanged = starts !== known.lines.join(', ') || pages !== known.pages.join(', ')
  return (
    <form
      className="panel"
      onSubmit={(event) => {
        event.preventDefault()
        keep.mutate({ lines: starts, pages })
      }}
    >
      <p className="muted">
        {known.by_hand
          ? 'Lines as you typed them.'
          : known.lines.length > 0
            ? 'Lines as the file has them.'
            : 'The file names no lines.'}{' '}
        {w('Say which measure each line of your print starts with')}, and “second from the end of line 4” is understood.
      </p>
      <label htmlFor="line-starts">Lines start at</label>
      <Input.TextArea
        id="line-starts"
        value={starts}
        rows={3}
        maxLength={2000}
        placeholder="5, 9, 13, 17"
        onChange={(e) => setStarts(e.target.value)}
      />
      <label htmlFor="page-starts">Pages start at</label>
      <Input
        id="page-starts"
        value={pages}
        maxLength={2000}
        placeholder="33"
        onChange={(e) => setPages(e.target.value)}
      />
      <div className="tool-group">
        <Button type="primary" htmlType="submit" size="small" loading={keep.isPending} disabled={!isChanged}>
          Keep these lines
        </Button>
        {known.by_hand && (
          <Button size="small" onClick={() => keep.mutate({ lines: '', pages: '' })}>
            As the file has them
          </Button>
        )}
      </div>
      {keep.isError && (
        <p role="alert" className="fails">
          {said(keep.error)}
        </p>
      )}
    </form>
  )
}
