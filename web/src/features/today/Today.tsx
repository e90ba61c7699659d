import { useQuery } from '@tanstack/react-query'
import { Button } from 'antd'
import { Link, useNavigate } from 'react-router'
import { ask } from '../../api/ask'
import { getToday, type Me, type TodayItemOut } from '../../api/gen'
import { bpm, day, minutes } from '../../shared/lib/time'
import { LevelMark } from '../../shared/ui/LevelMark'
import { Empty, Failed, Loading } from '../../shared/ui/states'

export default function Today({ me }: { me: Me }) {
  const navigate = useNavigate()
  const today = useQuery({ queryKey: ['today'], queryFn: () => ask(getToday()) })
  if (today.isPending) return <Loading what="Looking up your list" />
  if (today.isError) return <Failed error={today.error} retry={() => void today.refetch()} />
  const open = today.data.filter((item) => !item.is_finished && !item.rests)
  const next = open[0]
  const total = open.reduce((sum, item) => sum + item.minutes * 60, 0)
  return (
    <div className="page narrow">
      <h1>Today</h1>
      {today.data.length === 0 && (
        <Empty title={`Nothing open, ${me.name.split(' ')[0] ?? ''}`}>
          <p>When your director sends something, it stands here in order.</p>
        </Empty>
      )}
      {next && (
        <>
          <p className="lead">
            {minutes(total)} in all. Warm up first; take five after half an hour.
          </p>
          <Button type="primary" size="large" block className="big-start" onClick={() => void navigate(`/stand/${next.item_id}`)}>
            Start with {next.chunk.replace('→', '')}
          </Button>
        </>
      )}
      {today.data.length > 0 && !next && <p className="lead">All done. Play something you like.</p>}
      <ol className="today">
        {today.data.map((item) => (
          <Line key={item.item_id} item={item} />
        ))}
      </ol>
      <p className="muted">
        A sheet on paper? <Link to="/sheets">Type its ticks in</Link>.
      </p>
    </div>
  )
}

function Line({ item }: { item: TodayItemOut }) {
  return (
    <li className={item.is_finished ? 'finished' : ''}>
      <Link to={`/stand/${item.item_id}`}>
        <LevelMark level={item.level} size={28} hasNumber={false} />
        <span className="what">
          <strong>{item.chunk}</strong> {item.drill}
          <small>
            {item.title}, due {day(item.due_on)}
            {item.role === 'upkeep' && ', to keep going'}
            {item.note && `, ${item.note.toLowerCase()}`}
          </small>
        </span>
        <span className="how-long">
          {item.is_finished ? 'done' : item.rests ? 'rests today' : item.minutes === 0 ? 'later' : minutes(item.minutes * 60)}
          <small>
            {bpm(item.tempo)} of {bpm(item.goal_bpm)}
          </small>
        </span>
      </Link>
    </li>
  )
}
