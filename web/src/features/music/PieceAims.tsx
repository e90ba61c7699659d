import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, InputNumber } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { setObjectives, setPieceGoal, type PieceOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'

const MOST = 3

/** One goal tempo for every part, and what the piece is about: printed on each page of it. */
export function PieceAims({ piece, close }: { piece: PieceOut; close: () => void }) {
  const goals = [...new Set(piece.parts.map((part) => part.goal_bpm))]
  const [goal, setGoal] = useState<number | null>(goals[0] ?? null)
  const [lines, setLines] = useState([0, 1, 2].map((i) => piece.objectives[i] ?? ''))
  const { message } = App.useApp()
  const client = useQueryClient()
  const keep = useMutation({
    mutationFn: async () => {
      if (goal !== null && (goals.length > 1 || goal !== goals[0]))
        await ask(setPieceGoal({ path: { piece_id: piece.id }, body: { goal_bpm: goal } }))
      return ask(
        setObjectives({ path: { piece_id: piece.id }, body: { objectives: lines.filter((line) => line.trim()) } }),
      )
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.pieces })
      await client.invalidateQueries({ queryKey: keys.part.all })
      void message.success(t('music.savedForTheWholePiece'))
      close()
    },
  })
  return (
    <form
      className="aims"
      aria-label={t('music.goalAndObjectivesOf', { title: piece.title })}
      onSubmit={(event) => {
        event.preventDefault()
        keep.mutate()
      }}
    >
      <p>
        <label htmlFor={`goal-${piece.id}`}>{t('music.goalTempoOfEveryPart')}</label>
        <InputNumber id={`goal-${piece.id}`} value={goal} min={20} max={300} onChange={setGoal} />
        <span className="muted">
          {goals.length > 1 ? t('music.thePartsHaveDifferentGoalsNow') : t('music.inTheSplitterYouCanGive')}
        </span>
      </p>
      <fieldset>
        <legend>{t('music.upToObjectivesPrintedOnEvery', { most: MOST })}</legend>
        {lines.map((line, i) => (
          <Input
            key={i}
            value={line}
            maxLength={80}
            aria-label={t('music.objective', { number: i + 1 })}
            placeholder={[t('music.evenSixteenthsOverTheBreak'), t('music.threeRealDynamics'), ''][i]}
            onChange={(e) => setLines(lines.map((old, k) => (k === i ? e.target.value : old)))}
          />
        ))}
      </fieldset>
      {keep.isError && (
        <p role="alert" className="fails">
          {said(keep.error)}
        </p>
      )}
      <div className="tool-group">
        <Button type="primary" htmlType="submit" loading={keep.isPending}>
          {t('music.keep')}
        </Button>
        <Button onClick={close}>{t('music.cancel')}</Button>
      </div>
    </form>
  )
}
