import { useMutation } from '@tanstack/react-query'
import { Button, InputNumber, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { splitTogether, type ScoreOut, type SplitPartOut, type SplitTogetherIn } from '../../api/gen'
import { useOnce } from '../../shared/hooks/once'
import { t } from '../../words/words'

type By = NonNullable<SplitTogetherIn['by']>

const WAYS: { value: By; label: string }[] = [
  { value: 'load', label: t('score.byLoad') },
  { value: 'phrases', label: t('score.byPhrases') },
  { value: 'measures', label: t('score.byMeasures') },
]

interface Props {
  score: ScoreOut
  onSplit: (parts: SplitPartOut[]) => void
}

/** Divide a passage once for everybody. */
export function SplitForm({ score, onSplit }: Props) {
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
        {t('score.split')}{' '}
        <input
          aria-label={t('score.passage')}
          list="score-passages"
          value={words}
          placeholder={t('score.allOfIt')}
          onChange={(event) => setWords(event.target.value)}
        />
        <datalist id="score-passages">
          {score.passages.map((passage) => (
            <option key={passage.first} value={passage.name} />
          ))}
        </datalist>
      </label>
      <Select aria-label={t('score.howToSplit')} value={by} onChange={setBy} options={WAYS} style={{ minWidth: 140 }} />
      {by === 'measures' && (
        <InputNumber
          aria-label={t('score.measuresInAChunk')}
          min={1}
          max={64}
          value={measures}
          onChange={(next) => next !== null && setMeasures(next)}
        />
      )}
      <Button htmlType="submit" loading={split.isPending}>
        {t('score.inEveryPart')}
      </Button>
      {split.isError && <p role="alert">{said(split.error)}</p>}
    </form>
  )
}
