import { Input, type InputProps, type InputRef } from 'antd'
import type { Ref } from 'react'
import { said } from '../../api/ask'

interface Props extends Omit<InputProps, 'value' | 'onChange' | 'onPressEnter' | 'status'> {
  words: string
  setWords: (words: string) => void
  /** Called with words that are not empty. */
  find: (words: string) => void
  error: Error | null
  inputRef?: Ref<InputRef>
}

/** A place as people say it; the server knows the words, and says which it does not. */
export function PlaceInput({ words, setWords, find, error, inputRef, ...input }: Props) {
  return (
    <>
      <Input
        {...input}
        {...(inputRef ? { ref: inputRef } : {})}
        value={words}
        status={error ? 'error' : ''}
        onChange={(event) => setWords(event.target.value)}
        onPressEnter={() => words.trim() && find(words)}
      />
      {error && (
        <span className="jump-said" role="alert">
          {said(error)}
        </span>
      )}
    </>
  )
}
