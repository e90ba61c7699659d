import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button } from 'antd'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { ask } from '../../api/ask'
import { getScore, takeSplitBack, type ScoreOut, type SplitPartOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { bpm } from '../../shared/lib/time'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { Passages } from './Passages'
import { SendPassage } from './SendPassage'
import { SplitForm } from './SplitForm'
import './score.css'

/** A piece as a whole: one tempo, who plays where, and how every section stands on each passage. */
export default function Score() {
  const { pieceId = '' } = useParams()
  const score = useQuery({
    queryKey: keys.score.piece(pieceId),
    queryFn: () => ask(getScore({ path: { piece_id: pieceId } })),
  })
  if (score.isPending) return <Loading what="Opening the score" />
  if (score.isError) return <Failed error={score.error} retry={() => void score.refetch()} />
  return <View score={score.data} />
}

function View({ score }: { score: ScoreOut }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const [place, setPlace] = useState<number | null>(null)
  const renew = () => {
    for (const queryKey of [keys.score.all, keys.part.all, keys.wall.all, keys.rehearsalDraft.all]) {
      void client.invalidateQueries({ queryKey })
    }
  }
  const back = useMutation({
    mutationFn: (parts: SplitPartOut[]) =>
      ask(
        takeSplitBack({
          path: { piece_id: score.piece_id },
          body: {
            maps: parts.flatMap((one) =>
              one.version === null ? [] : [{ part_id: one.part_id, version: one.version }],
            ),
          },
        }),
      ),
    onSuccess: ({ kept }) => {
      renew()
      void (kept.length > 0
        ? message.info(`Edited since, so left as they are: ${kept.join(', ')}.`)
        : message.success('As it was.'))
    },
  })
  const onSplit = (parts: SplitPartOut[]) => {
    renew()
    const changed = parts.filter((one) => one.version !== null)
    const rests = parts.filter((one) => one.version === null).map((one) => one.part)
    void message.success(
      <>
        Split in {changed.length} {changed.length === 1 ? 'part' : 'parts'}
        {rests.length > 0 && `; ${rests.join(', ')} rest there`}.{' '}
        <Button size="small" type="link" onClick={() => back.mutate(parts)}>
          Undo
        </Button>
      </>,
      8,
    )
  }
  const neck = score.bottleneck
  return (
    <div className="page wide">
      <div className="page-head">
        <div>
          <h1>{score.title}</h1>
          <p className="lead">
            Goal {bpm(score.goal_bpm)}
            {score.floor_bpm !== null && `, not under ${bpm(score.floor_bpm)}`}
            {neck && score.ceiling_bpm !== null && (
              <>
                . Together it goes at {score.ceiling_bpm}: {score.desks[neck.desk]?.section} in{' '}
                {score.passages[neck.passage]?.name} hold no more.
              </>
            )}
          </p>
        </div>
        <Link to={`/rehearse?piece=${score.piece_id}`}>Rehearse it</Link>
      </div>
      {score.passages.length === 0 ? (
        <Empty title="No part with notes">
          <p>A score as a whole needs parts with notes in them.</p>
          <Link to="/music">To Music</Link>
        </Empty>
      ) : (
        <>
          <SplitForm score={score} onSplit={onSplit} />
          {score.desks.length === 0 && (
            <p className="caution">
              Nobody plays in it yet. <Link to="/music">Say who plays what</Link>
            </p>
          )}
          <Passages score={score} chosen={place} choose={setPlace} />
          {place !== null && <SendPassage key={place} score={score} place={place} close={() => setPlace(null)} />}
        </>
      )}
    </div>
  )
}
