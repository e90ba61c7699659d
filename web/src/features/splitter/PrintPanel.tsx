import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { getPageMap, setPageMap, type PageMapOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { Failed } from '../../shared/ui/states'
import { t } from '../../words/words'

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
        {t('splitter.thenCrumbUnderstandsSecondFromThe', {
          lines: known.by_hand
            ? t('splitter.theseAreTheLinesYouTyped')
            : known.lines.length > 0
              ? t('splitter.theseAreTheLinesOfThe')
              : t('splitter.theFileHasNoLineBreaks'),
          request: t('splitter.enterTheMeasureThatEachLine'),
        })}
      </p>
      <label htmlFor="line-starts">{t('splitter.linesStartAt')}</label>
      <Input.TextArea
        id="line-starts"
        value={starts}
        rows={3}
        maxLength={2000}
        placeholder="5, 9, 13, 17"
        onChange={(e) => setStarts(e.target.value)}
      />
      <label htmlFor="page-starts">{t('splitter.pagesStartAt')}</label>
      <Input
        id="page-starts"
        value={pages}
        maxLength={2000}
        placeholder="33"
        onChange={(e) => setPages(e.target.value)}
      />
      <div className="tool-group">
        <Button type="primary" htmlType="submit" size="small" loading={keep.isPending} disabled={!isChanged}>
          {t('splitter.keepTheseLines')}
        </Button>
        {known.by_hand && (
          <Button size="small" onClick={() => keep.mutate({ lines: '', pages: '' })}>
            {t('splitter.useTheLinesOfTheFile')}
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
