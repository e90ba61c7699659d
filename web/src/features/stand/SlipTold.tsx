import type { SlipKindOut } from '../../api/gen'
import type { Moment, PracticeSession } from '../../practice/session'
import { t } from '../../words/words'

interface Props {
  session: PracticeSession
  moment: Pick<Moment, 'played' | 'slip'>
  kinds: SlipKindOut[]
  hasNotes: boolean
}

/** After a slip: where and what, in one touch each, or not at all. */
export function SlipTold({ session, moment, kinds, hasNotes }: Props) {
  const { slip, played } = moment
  if (slip.isLetGo) {
    return (
      <p className="slip-told" role="status">
        {t('stand.notCountedThisDrillDoesNot')}
      </p>
    )
  }
  if (played.at(-1)?.isClean !== false) return null
  return (
    <section className="slip-told" aria-label={t('stand.whatWasIt')}>
      {hasNotes && <p>{slip.at === null ? t('stand.whereTapTheNote') : t('stand.markedOnTheNote')}</p>}
      <div className="chips">
        {kinds.map((one) => (
          <button
            key={one.kind}
            type="button"
            aria-pressed={slip.what === one.kind}
            onClick={() => session.tellSlip({ what: one.kind }, one.is_judged)}
          >
            {one.label}
          </button>
        ))}
      </div>
    </section>
  )
}
