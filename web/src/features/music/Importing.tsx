import { Alert, Button, Progress } from 'antd'
import { said } from '../../api/ask'
import type { ImportOut } from '../../api/gen'
import { Report } from './Report'

interface Props {
  job: ImportOut | undefined
  refusal: Error | null
  isRunning: boolean
  forget: () => void
  stop: () => void
}

const STAGES: Record<string, string> = {
  reading: 'Reading the parts and looking for what is hard',
  'looking for kin': 'Looking for what is alike',
}

/** What is happening to an upload; it goes on when this page is left. */
export function Importing({ job, refusal, isRunning, forget, stop }: Props) {
  if (refusal) return <Refused reason={said(refusal)} forget={forget} />
  if (job?.state === 'failed') return <Refused reason={job.message} forget={forget} />
  if (job?.state === 'cancelled')
    return (
      <Alert type="info" showIcon closable={{ onClose: forget }} title="Cancelled. Nothing was stored." role="status" />
    )
  if (isRunning) {
    const percent = job && job.total > 0 ? Math.round((100 * job.done) / job.total) : undefined
    return (
      <div className="importing" role="status">
        <span>
          {(job && !job.stage ? 'Waiting for its turn' : STAGES[job?.stage ?? '']) ?? 'Sending the file'} …{' '}
          {job && <small className="muted">You may leave this page.</small>}
        </span>
        {job && (
          <Button size="small" onClick={stop}>
            Cancel
          </Button>
        )}
        <Progress percent={percent ?? 0} showInfo={percent !== undefined} aria-label="How far the import is" />
      </div>
    )
  }
  if (!job?.piece) return null
  return (
    <Alert
      type="success"
      showIcon
      closable={{ onClose: forget }}
      role="status"
      title={`${job.piece.title} is here.`}
      description={<Report piece={job.piece} />}
    />
  )
}

function Refused({ reason, forget }: { reason: string; forget: () => void }) {
  return (
    <Alert
      type="error"
      showIcon
      closable={{ onClose: forget }}
      title={reason}
      description="Nothing was stored."
      role="alert"
    />
  )
}
