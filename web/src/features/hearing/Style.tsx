import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { sayStyle, type ChunkOut, type StyleOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { useMay } from '../../shared/hooks/rights'
import { t } from '../../words/words'

interface Props {
  partId: string
  chunk: ChunkOut
  style: StyleOut[]
}

/** How a passage is to be played: students read it before their first take, and it is judged last. */
export function Style({ partId, chunk, style }: Props) {
  const client = useQueryClient()
  const maySay = useMay('send')
  const own = style.find((one) => one.chunk_id === chunk.id)
  const others = style.filter((one) => one !== own)
  const [text, setText] = useState<string | null>(null)
  const say = useMutation({
    mutationFn: (words: string) =>
      ask(sayStyle({ path: { part_id: partId, chunk_id: chunk.id }, body: { text: words } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.hearing.all })
      setText(null)
    },
  })
  return (
    <div className="style-brief">
      {others.map((one) => (
        <p key={one.chunk_id}>
          <strong>{t('hearing.styleOfLabel', { label: one.label.replace('→', '') })}</strong> {one.text}
        </p>
      ))}
      {text === null ? (
        <p>
          {own && (
            <>
              <strong>{t('hearing.style')}</strong> {own.text}{' '}
            </>
          )}
          {maySay && (
            <Button size="small" type="link" onClick={() => setText(own?.text ?? '')}>
              {own ? t('hearing.change') : t('hearing.describeItsStyle')}
            </Button>
          )}
        </p>
      ) : (
        <form
          className="inline"
          onSubmit={(event) => {
            event.preventDefault()
            say.mutate(text)
          }}
        >
          <Input
            aria-label={t('hearing.styleOfThisPassage')}
            placeholder={t('hearing.shortFirstNoteThenLeanAnd')}
            maxLength={300}
            value={text}
            autoFocus
            onChange={(event) => setText(event.target.value)}
          />
          <Button htmlType="submit" loading={say.isPending}>
            {t('hearing.keep')}
          </Button>
          <Button type="text" onClick={() => setText(null)}>
            {t('hearing.cancel')}
          </Button>
        </form>
      )}
      {say.isError && <p role="alert">{said(say.error)}</p>}
    </div>
  )
}
