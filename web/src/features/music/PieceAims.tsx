import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, InputNumber } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { setObjectives, setPieceGoal, type PieceOut } from '../../api/gen'
import { keys } from '../../api/keys'

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
      void message.success('Kept for the whole piece.')
      close()
    },
  })
  return (
    <form
      className="aims"
      aria-label={`Goal and objectives of ${piece.title}`}
      onSubmit={(event) => {
        event.preventDefault()
        keep.mutate()
      }}
    >
      <p>
        <label htmlFor={`goal-${piece.id}`}>Goal tempo of every part</label>
        <InputNumber id={`goal-${piece.id}`} value={goal} min={20} max={300} onChange={setGoal} />
        <span className="muted">
          {goals.length > 1 ? 'Parts differ now; this makes them one.' : 'A part can be given its own in the Splitter.'}
        </span>
      </p>
      <fieldset>
        <legend>What it is about, {MOST} at most: on every page that is printed of it</legend>
        {lines.map((line, i) => (
          <Input
            key={i}
            value={line}
            maxLength={80}
            aria-label={`Objective ${i + 1}`}
            placeholder={['Even sixteenths over the break', 'Three real dynamics', ''][i]}
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
          Keep
        </Button>
        <Button onClick={close}>Cancel</Button>
      </div>
    </form>
  )
}
