import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Button, Input } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { claimKin } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'

/** "53 is 33 a step lower": held against the notes one by one, and kept if it is true. */
export function ClaimBox({ partId }: { partId: string }) {
  const [text, setText] = useState('')
  const client = useQueryClient()
  const claim = useMutation({
    mutationFn: () => ask(claimKin({ path: { part_id: partId }, body: { text } })),
    onSuccess: (answer) =>
      answer.holds ? client.invalidateQueries({ queryKey: keys.part.similarity(partId) }) : undefined,
  })
  return (
    <form
      className="claim"
      onSubmit={(event) => {
        event.preventDefault()
        if (text.trim()) claim.mutate()
      }}
    >
      <label htmlFor="claim">{t('splitter.isThisTrue')}</label>
      <div className="tool-group">
        <Input
          id="claim"
          size="small"
          value={text}
          placeholder={t('splitter.n53Is33AStepLower')}
          maxLength={200}
          onChange={(e) => setText(e.target.value)}
        />
        <Button size="small" htmlType="submit" loading={claim.isPending} disabled={!text.trim()}>
          {t('splitter.check')}
        </Button>
      </div>
      {claim.isSuccess && (
        <p role="status" className={claim.data.holds ? 'holds' : 'fails'}>
          {claim.data.said}
        </p>
      )}
      {claim.isError && (
        <p role="alert" className="fails">
          {said(claim.error)}
        </p>
      )}
    </form>
  )
}
