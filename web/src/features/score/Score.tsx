import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button } from 'antd'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { ask } from '../../api/ask'
import { getScore, takeSplitBack, type ScoreOut, type SplitPartOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { bpm } from '../../shared/pure/time'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { Passages } from './Passages'
import { SendPassage } from './SendPassage'
import { SplitForm } from './SplitForm'
import { t } from '../../words/words'
import { Say } from '../../words/Say'
import './score.css'

/** A piece as a whole: one tempo, who plays where, and how every section stands on each passage. */
export default function Score() {
  const { pieceId = '' } = useParams()
  const score = useQuery({
    queryKey: keys.score.piece(pieceId),
    queryFn: () => ask(getScore({ path: { piece_id: pieceId } })),
  })
  if (score.isPending) return <Loading what={t('score.openingTheScore')} />
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
        ? message.info(t('score.youHaveEditedThesePartsSo', { kept: kept.join(', ') }))
        : message.success(t('score.theChunksAreAsTheyWere')))
    },
  })
  const onSplit = (parts: SplitPartOut[]) => {
    renew()
    const changed = parts.filter((one) => one.version !== null)
    const rests = parts.filter((one) => one.version === null).map((one) => one.part)
    void message.success(
      <>
        {t('score.splitInParts', { count: changed.length })}
        {rests.length > 0 && t('score.restThere', { rests: rests.join(', ') })}.{' '}
        <Button size="small" type="link" onClick={() => back.mutate(parts)}>
          {t('score.undo')}
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
            {t('score.goal', { goalBpm: bpm(score.goal_bpm) })}
            {score.floor_bpm !== null && t('score.notUnder', { floorBpm: bpm(score.floor_bpm) })}
            {neck && score.ceiling_bpm !== null && (
              <>
                {t('score.togetherTheTempoIsInCannot', {
                  ceilingBpm: score.ceiling_bpm,
                  section: score.desks[neck.desk]?.section,
                  name: score.passages[neck.passage]?.name,
                })}
              </>
            )}
          </p>
        </div>
        <Link to={`/rehearse?piece=${score.piece_id}`}>{t('score.rehearseIt')}</Link>
      </div>
      {score.passages.length === 0 ? (
        <Empty title={t('score.noPartWithNotes')}>
          <p>{t('score.toSeeAWholeScoreBring')}</p>
          <Link to="/music">{t('score.openMusic')}</Link>
        </Empty>
      ) : (
        <>
          <SplitForm score={score} onSplit={onSplit} />
          {score.desks.length === 0 && (
            <p className="caution">
              <Say it="score.nobodyPlaysThisPieceYetChoose" components={[<Link to="/music" />]} />
            </p>
          )}
          <Passages score={score} chosen={place} choose={setPlace} />
          {place !== null && <SendPassage key={place} score={score} place={place} close={() => setPlace(null)} />}
        </>
      )}
    </div>
  )
}
