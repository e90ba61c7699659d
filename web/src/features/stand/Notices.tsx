import { Button } from 'antd'
import type { PracticeSession } from '../../practice/session'

const REASONS = ['My teacher said so', 'I could play it before', 'Only to feel how it goes']

/** Above the next rung: why? What is played there is kept, but proves nothing by itself. */
export function JumpQuestion({ session, reason }: { session: PracticeSession; reason: string }) {
  return (
    <section className="jump" aria-label="Why are rungs left out?">
      <p>Rungs are left out here. It is kept as an attempt and proves nothing yet. Why?</p>
      <div className="tool-group">
        {REASONS.map((one) => (
          <Button
            key={one}
            size="small"
            type={one === reason ? 'primary' : 'default'}
            aria-pressed={one === reason}
            onClick={() => session.say(one)}
          >
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

/** What the server kept and does not count, and why. */
export function Doubts({ doubted }: { doubted: { id: string; say: string }[] }) {
  const last = doubted.at(-1)
  if (!last) return null
  return (
    <p className="unsent" role="status">
      {doubted.length === 1 ? 'One is' : `${doubted.length} are`} kept but not counted. {last.say}
    </p>
  )
}
