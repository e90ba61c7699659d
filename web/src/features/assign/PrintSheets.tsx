import { useMutation, useQuery } from '@tanstack/react-query'
import { Button, Checkbox, Progress } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { getSheetJob, orderSheets } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'

/** Practice sheets of a sending: ordered, followed while they are made, then opened. */
export function PrintSheets({ assignmentId, label }: { assignmentId: string; label: string }) {
  const [jobId, setJobId] = useState<string | null>(null)
  const [hasBoxes, setHasBoxes] = useState(false)
  const order = useMutation({
    mutationFn: () => ask(orderSheets({ path: { assignment_id: assignmentId }, body: { boxes: hasBoxes } })),
    onSuccess: (job) => setJobId(job.id),
  })
  const job = useQuery({
    queryKey: keys.sheetJob(jobId),
    queryFn: () => ask(getSheetJob({ path: { job_id: jobId ?? '' } })),
    enabled: jobId !== null,
    refetchInterval: (query) =>
      query.state.data && ['done', 'failed', 'cancelled'].includes(query.state.data.state) ? false : 600,
  })
  const state = job.data?.state
  const share = job.data && job.data.total > 0 ? Math.round((job.data.done / job.data.total) * 100) : 0
  return (
    <span className="print-sheets">
      {state === 'done' && jobId ? (
        <Button
          type="primary"
          href={`/api/sheets/jobs/${jobId}/pdf`}
          target="_blank"
          aria-label={t('assign.openTheSheetsOf', { label })}
        >
          {t('assign.openTheSheets')}
        </Button>
      ) : (
        <>
          <Checkbox
            checked={hasBoxes}
            onChange={(event) => setHasBoxes(event.target.checked)}
            aria-label={t('assign.aCircleForEachRepetitionOn', { label })}
          >
            {t('assign.aCircleForEachRepetition')}
          </Checkbox>
          <Button
            onClick={() => order.mutate()}
            loading={order.isPending || state === 'waiting' || state === 'working'}
            aria-label={t('assign.printSheetsFor', { label })}
          >
            {t('assign.printSheets')}
          </Button>
        </>
      )}
      {state === 'working' && <Progress percent={share} size="small" aria-label={t('assign.makingTheSheets')} />}
      {state === 'failed' && <span role="alert"> {job.data?.message}</span>}
      {order.isError && <span role="alert"> {said(order.error)}</span>}
    </span>
  )
}
