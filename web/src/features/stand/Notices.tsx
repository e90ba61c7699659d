import { Alert, Button } from 'antd'
import type { Refused } from '../../practice/outbox'
import type { PracticeSession } from '../../practice/session'

const REASONS = ['My teacher said so', 'I could play it before', 'Only to feel how it goes']

/** Above the next rung: why? What is played there is kept, but proves nothing by itself. */
export function JumpQuestion({ session, reason }: { session: PracticeSession; reason: string }) {
  return (
    <section className="jump" aria-label="Why are rungs left out?">
      <p>Rungs are left out here. It is kept as an attempt and proves nothing yet. Why?</p>
      <div className="tool-group">
        {REASONS.map((one) => (
          <Button key={one} size="small" type={one === reason ? 'primary' : 'default'} aria-pressed={one === reason} onClick={() => session.say(one)}>
            {one}
          </Button>
        ))}
        <Button size="small" type="text" onClick={() => session.backToLadder()}>
          Back to the ladder
        </Button>
      </div>
    </section>
  )
}

interface Props {
  unsent: number
  refused: Refused[]
  forget: () => void
  doubted: { id: string; say: string }[]
}

/** What became of what was counted, where it is not simply there. */
export function Notices({ unsent, refused, forget, doubted }: Props) {
  const last = doubted.at(-1)
  return (
    <>
      {unsent > 0 && (
        <p className="unsent" role="status">
          {unsent} kept on this device until the server has them.
        </p>
      )}
      {last && (
        <p className="unsent" role="status">
          {doubted.length === 1 ? 'One is' : `${doubted.length} are`} kept but not counted. {last.say}
        </p>
      )}
      {refused.length > 0 && (
        <Alert
          type="warning"
          showIcon
          role="alert"
          title={`The server would not take ${refused.length === 1 ? 'one' : refused.length} of yours.`}
          description={refused.at(-1)?.said ?? ''}
          closable={{ onClose: forget }}
        />
      )}
    </>
  )
}
