import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Modal, Radio } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { deletePiece, getHanging, listDeletedPieces, restorePiece, type HangingOut, type PieceOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { day } from '../../shared/pure/time'
import { Failed, Loading } from '../../shared/ui/states'
import { inList, t, type Key } from '../../words/words'

function useBringBack() {
  const client = useQueryClient()
  const { message } = App.useApp()
  return useMutation({
    mutationFn: (id: string) => ask(restorePiece({ path: { piece_id: id } })),
    onSuccess: (piece) => {
      void message.success(t('music.isBack', { title: piece.title }))
      return Promise.all([
        client.invalidateQueries({ queryKey: keys.pieces }),
        client.invalidateQueries({ queryKey: keys.deletedPieces }),
      ])
    },
    onError: (error) => void message.error(said(error)),
  })
}

/** Takes a piece away: what hangs on it is said first, and for a week it can be brought back. */
export function DeletePiece({ piece }: { piece: PieceOut }) {
  const [isAsking, setAsking] = useState(false)
  const [evidence, setEvidence] = useState<'keep' | 'erase'>('keep')
  const client = useQueryClient()
  const { message } = App.useApp()
  const back = useBringBack()
  const hanging = useQuery({
    queryKey: keys.pieceContents(piece.id),
    queryFn: () => ask(getHanging({ path: { piece_id: piece.id } })),
    enabled: isAsking,
    gcTime: 0,
  })
  const remove = useMutation({
    mutationFn: () => ask(deletePiece({ path: { piece_id: piece.id }, query: { evidence } })),
    onSuccess: () => {
      setAsking(false)
      const undo = (
        <span>
          {t('music.isDeleted', { title: piece.title })}{' '}
          <Button size="small" onClick={() => back.mutate(piece.id)}>
            {t('music.undo')}
          </Button>
        </span>
      )
      void message.info({ content: undo, duration: 10 })
      return Promise.all([
        client.invalidateQueries({ queryKey: keys.pieces }),
        client.invalidateQueries({ queryKey: keys.deletedPieces }),
      ])
    },
  })
  return (
    <>
      <Button size="small" onClick={() => setAsking(true)}>
        {t('music.delete')}
      </Button>
      <Modal
        open={isAsking}
        onCancel={() => setAsking(false)}
        title={t('music.deleteOfTitle', { title: piece.title })}
        okText={t('music.delete')}
        okButtonProps={{ danger: true, loading: remove.isPending, disabled: !hanging.data }}
        onOk={() => remove.mutate()}
      >
        {hanging.isPending && <Loading what={t('music.checkingWhatGoesWithIt')} />}
        {hanging.isError && <Failed error={hanging.error} retry={() => void hanging.refetch()} />}
        {hanging.data && <p>{whatHangs(hanging.data)}</p>}
        <Radio.Group
          value={evidence}
          onChange={(event) => setEvidence(event.target.value as 'keep' | 'erase')}
          options={[
            { value: 'keep', label: t('music.keepThePracticeRecords') },
            { value: 'erase', label: t('music.eraseThePracticeRecordsToo') },
          ]}
          vertical
        />
        <p className="muted">{t('music.youCanBringItBackWithin')}</p>
        {remove.isError && <p role="alert">{said(remove.error)}</p>}
      </Modal>
    </>
  )
}

function whatHangs(hanging: HangingOut): string {
  const counted: [number, Key][] = [
    [hanging.parts, 'music.parts'],
    [hanging.chunks, 'music.chunks'],
    [hanging.marks, 'music.marks'],
    [hanging.assignments, 'music.assignments'],
    [hanging.repetitions, 'music.repetitions'],
  ]
  const list = counted.filter(([count]) => count > 0).map(([count, key]) => t(key, { count }))
  return t('music.thisAlsoDeletes', {
    list: inList(list),
    students:
      hanging.students > 0
        ? t('music.studentsHaveItOnTheirLists', { count: hanging.students })
        : t('music.noStudentHasIt'),
  })
}

/** What was taken away lately. */
export function DeletedPieces() {
  const deleted = useQuery({ queryKey: keys.deletedPieces, queryFn: () => ask(listDeletedPieces()) })
  const back = useBringBack()
  if (!deleted.data || deleted.data.length === 0) return null
  return (
    <section aria-label={t('music.recentlyDeleted')} className="deleted">
      <h2>{t('music.recentlyDeleted')}</h2>
      <ul className="names">
        {deleted.data.map((piece) => (
          <li key={piece.id}>
            <span>
              {piece.title}{' '}
              <small className="muted">
                {t('music.deletedForGoodOn', { goneAt: day(piece.gone_at) })}
                {piece.erases_evidence && t('music.withItsPracticeRecords')}
              </small>
            </span>
            <Button
              size="small"
              onClick={() => back.mutate(piece.id)}
              loading={back.isPending && back.variables === piece.id}
            >
              {t('music.bringBack')}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
