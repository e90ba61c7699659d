import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button } from 'antd'
import { Link } from 'react-router'
import { ask, said } from '../../api/ask'
import { listAssignments, restoreAssignment, withdrawAssignment, type AssignmentOut } from '../../api/gen'
import { day } from '../../shared/lib/time'
import { Empty, Failed, Loading } from '../../shared/ui/states'

const key = ['assignments']

export default function Sent() {
  const client = useQueryClient()
  const { message } = App.useApp()
  const sent = useQuery({ queryKey: key, queryFn: () => ask(listAssignments()) })
  const change = useMutation({
    mutationFn: ({ id, withdrawn }: AssignmentOut) =>
      withdrawn
        ? ask(restoreAssignment({ path: { assignment_id: id } }))
        : ask(withdrawAssignment({ path: { assignment_id: id } })),
    onSuccess: (list) => client.setQueryData(key, list),
    onError: (error) => void message.error(said(error)),
  })
  return (
    <div className="page">
      <h1>Assignments</h1>
      {sent.isPending && <Loading what="Looking them up" />}
      {sent.isError && <Failed error={sent.error} retry={() => void sent.refetch()} />}
      {sent.data?.length === 0 && (
        <Empty title="Nothing sent yet">
          <p>Open a part, split it, choose drills on the bench, and send them to a section.</p>
          <Link to="/">To the music</Link>
        </Empty>
      )}
      <ul className="pieces">
        {sent.data?.map((a) => (
          <li key={a.id} className={a.withdrawn ? 'piece withdrawn' : 'piece'}>
            <div className="page-head">
              <div>
                <h2>
                  {a.section}: {a.title}
                </h2>
                <p className="muted">
                  {a.students} {a.students === 1 ? 'student' : 'students'}, {a.minutes_a_day} minutes a day, due {day(a.due_on)}
                  {a.withdrawn && '. Taken back; what was played is kept.'}
                </p>
              </div>
              <span>
                <Link to={`/wall?part=${a.part_id}&section=${a.section_id}`}>See the Wall</Link>{' '}
                <Button onClick={() => change.mutate(a)} loading={change.isPending}>
                  {a.withdrawn ? 'Send again' : 'Take back'}
                </Button>
              </span>
            </div>
            <p>{a.items.map((item) => `${item.chunk} ${item.drill}`).join(' · ')}</p>
          </li>
        ))}
      </ul>
    </div>
  )
}
