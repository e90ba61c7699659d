import { Alert, Button, Progress } from 'antd'
import { said } from '../../api/ask'
import type { ImportOut } from '../../api/gen'
import { Report } from './Report'
import { t } from '../../words/words'

interface Props {
  job: ImportOut | undefined
  refusal: Error | null
  isRunning: boolean
  forget: () => void
  stop: () => void
}

const STAGES: Record<string, string> = {
  reading: t('music.readingThePartsAndFindingThe'),
  'looking for kin': t('music.lookingForSimilarPassages'),
}

/** What is happening to an upload; it goes on when this page is left. */
export function Importing({ job, refusal, isRunning, forget, stop }: Props) {
  if (refusal) return <Refused reason={said(refusal)} forget={forget} />
  if (job?.state === 'failed') return <Refused reason={job.message} forget={forget} />
  if (job?.state === 'cancelled')
    return (
      <Alert
        type="info"
        showIcon
        closable={{ onClose: forget }}
        title={t('music.cancelledNothingWasStored')}
        role="status"
      />
    )
  if (isRunning) {
    const percent = job && job.total > 0 ? Math.round((100 * job.done) / job.total) : undefined
    return (
      <div className="importing" role="status">
        <span>
          {(job && !job.stage ? t('music.waitingForAnotherImportToFinish') : STAGES[job?.stage ?? '']) ??
            t('music.sendingTheFile')}{' '}
          … {job && <small className="muted">{t('music.youCanLeaveThisPageMeanwhile')}</small>}
        </span>
        {job && (
          <Button size="small" onClick={stop}>
            {t('music.cancel')}
          </Button>
        )}
        <Progress percent={percent ?? 0} showInfo={percent !== undefined} aria-label={t('music.progressOfTheImport')} />
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
      title={t('music.isHere', { title: job.piece.title })}
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
      description={t('music.nothingWasStored')}
      role="alert"
    />
  )
}
