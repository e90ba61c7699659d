import { Alert, Button } from 'antd'
import type { Me } from '../../api/gen'
import type { Refused } from '../../practice/outbox'
import { useSyncQueue } from '../lib/useSyncQueue'

interface Props {
  me: Me
  /** Said, too, where everything is handed in: how much of the day is on the device. */
  day?: { kept: number; of: number }
  /** Send what was refused to the teacher. */
  tell?: (refused: Refused) => void
}

/** In plain words: what is saved where. */
export function SyncStatus({ me, day, tell }: Props) {
  const { queue, unsent, refused, isMemoryOnly, sent } = useSyncQueue(me)
  function tellAll(to: (refused: Refused) => void) {
    // Told once: they are the teacher's to look at from here on.
    refused.forEach(to)
    void queue.forgetRefused()
  }
  return (
    <>
      {isMemoryOnly && (
        <Alert
          type="warning"
          showIcon
          role="alert"
          title="This device has no room for what you counted."
          description="Leave this page open until it has been sent: it is kept nowhere else."
        />
      )}
      {unsent > 0 && sent === 'signed out' && (
        <p className="unsent" role="status">
          {unsent} kept on this device. You are signed out: sign in again as {me.name}, and they are handed in.
        </p>
      )}
      {unsent > 0 && sent !== 'signed out' && (
        <p className="unsent" role="status">
          {unsent} kept on this device until the server has them.
        </p>
      )}
      {unsent === 0 && day && (
        <p className="muted kept-note">
          All you counted is handed in.{' '}
          {day.kept >= day.of
            ? 'Your day is kept on this device, too: it opens without a network.'
            : `Your day is being kept on this device: ${day.kept} of ${day.of}.`}
        </p>
      )}
      {refused.length > 0 && (
        <Alert
          type="warning"
          showIcon
          role="alert"
          title={`The server would not take ${refused.length === 1 ? 'one' : refused.length} of yours.`}
          description={
            <>
              <p>{refused.at(-1)?.said ?? ''}</p>
              {tell && (
                <Button size="small" onClick={() => tellAll(tell)}>
                  Send it to my teacher
                </Button>
              )}
            </>
          }
          closable={{ onClose: () => void queue.forgetRefused() }}
        />
      )}
    </>
  )
}
