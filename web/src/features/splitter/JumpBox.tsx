import { useMutation } from '@tanstack/react-query'
import type { InputRef } from 'antd'
import { useRef, useState } from 'react'
import { ask } from '../../api/ask'
import { findPlace } from '../../api/gen'
import { useKeys } from '../../shared/hooks/useKeys'
import { PlaceInput } from '../../shared/ui/PlaceInput'
import { t } from '../../words/words'

interface Props {
  partId: string
  jumpTo: (index: number, at: string) => void
}

/** Go to a place as people say it; the server knows the words. */
export function JumpBox({ partId, jumpTo }: Props) {
  const [words, setWords] = useState('')
  const field = useRef<InputRef>(null)
  const find = useMutation({
    mutationFn: (say: string) => ask(findPlace({ path: { part_id: partId }, query: { say } })),
    onSuccess: (place) => {
      jumpTo(place.start.index, place.start.at)
      field.current?.blur()
    },
  })
  useKeys({ '/': () => field.current?.focus() })
  return (
    <span className="jump">
      <PlaceInput
        inputRef={field}
        aria-label={t('splitter.goToAPlace')}
        placeholder={t('splitter.goToThirdMeasureOfR')}
        words={words}
        setWords={(next) => {
          setWords(next)
          find.reset()
        }}
        find={(say) => find.mutate(say)}
        error={find.error}
        suffix={<kbd>/</kbd>}
      />
      {find.isSuccess && <span className="muted">{find.data.label}</span>}
    </span>
  )
}
