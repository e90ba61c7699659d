import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Select } from 'antd'
import { ask, said } from '../../api/ask'
import { endHeard, listCures, sayHeard, type HeardOut } from '../../api/gen'
import { keys } from '../../api/keys'
import type { CellChoice } from './EvidenceDrawer'
import { t } from '../../words/words'

/** What was heard go wrong here, each with its cure; the next drills follow it. */
export function Heard({ heard, choice }: { heard: HeardOut[]; choice: CellChoice }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const cures = useQuery({ queryKey: keys.cures, queryFn: () => ask(listCures()), staleTime: Infinity })
  const refresh = () =>
    Promise.all(
      [keys.evidence.all, keys.plan.all, keys.plans, ['part', choice.partId]].map((queryKey) =>
        client.invalidateQueries({ queryKey }),
      ),
    )
  const onError = (error: Error) => void message.error(said(error))
  const say = useMutation({
    mutationFn: (words: string) =>
      ask(
        sayHeard({
          path: { part_id: choice.partId },
          body: { chunk_id: choice.chunkId, student_id: choice.studentId, words },
        }),
      ),
    onSuccess: refresh,
    onError,
  })
  const end = useMutation({
    mutationFn: ({ id, back }: { id: string; back: boolean }) =>
      ask(endHeard({ path: { heard_id: id }, query: { back } })),
    onSuccess: async (_, { id, back }) => {
      await refresh()
      if (!back)
        void message.success({
          content: (
            <>
              {t('wall.markedAsMended')}{' '}
              <Button type="link" size="small" onClick={() => end.mutate({ id, back: true })}>
                {t('wall.undo')}
              </Button>
            </>
          ),
          duration: 6,
        })
    },
    onError,
  })
  return (
    <section className="heard" aria-label={t('wall.whatWasHeard')}>
      <h3>{t('wall.heard')}</h3>
      {heard.map((one) => (
        <div key={one.id} className="heard-line">
          <span>
            <strong>{one.cure.heard}</strong>
            {one.is_of_section && <span className="muted"> {t('wall.theWholeSection')}</span>}
            <small>
              {t('wall.likelyFirst', { likely: one.cure.likely, drill: one.cure.drills[0] })}
              {one.cure.drills.length > 1 && t('wall.then', { drills: one.cure.drills.slice(1).join(', ') })}.{' '}
              {one.cure.advice}
            </small>
          </span>
          <Button size="small" onClick={() => end.mutate({ id: one.id, back: false })}>
            {t('wall.mended')}
          </Button>
        </div>
      ))}
      <Select
        aria-label={t('wall.somethingHeard')}
        placeholder={t('wall.whatWentWrong')}
        value={null}
        loading={say.isPending}
        showSearch={{ optionFilterProp: 'label' }}
        onChange={(key: string) => say.mutate(key)}
        options={(cures.data ?? [])
          .filter((cure) => !heard.some((one) => one.cure.key === cure.key && !one.is_of_section))
          .map((cure) => ({ value: cure.key, label: cure.heard }))}
        style={{ width: '100%' }}
      />
    </section>
  )
}
