import { useMutation } from '@tanstack/react-query'
import { Button, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { splitTogether, type ScoreOut, type SplitPartOut, type SplitTogetherIn } from '../../api/gen'
import { useOnce } from '../../shared/lib/once'
import { useWords } from '../../shared/lib/words'

type By = NonNullable<SplitTogetherIn['by']>

const WAYS: { value: By; label: string }[] = [
  { value: 'load', label: 'by load' },
  { value: 'phrases', label: 'by phrases' },
  { value: 'measures', label: 'by measures' },
]

interface Props {
  score: ScoreOut
  onSplit: (parts: SplitPartOut[]) => void
}

/** Divide a passage once for everybody. */
export function SplitForm({ score, onSplit }: Props) {
  const w = useWords()
  const [words, setWords] = useState('')
  const [by, setBy] = useState<By>(score.is_split ? 'load' : 'measures')
  const [measures, setMeasures] = useState(4)
  const once = useOnce()
  const split = useMutation({
    mutationFn: () =>
      once({ words, by, measures }, (id) =>
        ask(splitTogether({ path: { piece_id: score.piece_id }, body: { words, by, measures, id } })),
      ),
    onSuccess: onSplit,
  })
  return (
    <form
      className="split-together"
      onSubmit={(event) => {
        event.preventDefault()
        split.mutate()
      }}
    >
      <label>
        Split{' '}
        <input
          aria-label="Passage"
          list="score-passages"
          value={words}
          placeholder="all of it"
          onChange={(event) => setWords(event.target.value)}
        />
        <datalist id="score-passages">
          {score.passages.map((passage) => (
            <option key={passage.first} value={passage.name} />
          ))}
        </datalist>
      </label>
      <Select
        aria-label="How to split"
        value={by}
        onChange={setBy}
        options={WAYS.map((way) => ({ ...way, label: w(way.label) }))}
        style={{ minWidth: 140 }}
      />
      {by === 'measures' && (
        <InputNumber
          aria-label={w('Measures in a chunk')}
          min={1}
          max={64}
          value={measures}
          onChange={(next) => next !== null && setMeasures(next)}
        />
      )}
      <Button htmlType="submit" loading={split.isPending}>
        in every part
      </Button>
      {split.isError && <p role="alert">{said(split.error)}</p>}
    </form>
  )
}
