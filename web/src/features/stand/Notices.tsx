import { Button } from 'antd'
import { useEffect, useRef } from 'react'
import type { PracticeSession } from '../../practice/session'
import { t } from '../../words/words'

const REASONS = [t('stand.myTeacherSaidSo'), t('stand.iCouldPlayItBefore'), t('stand.onlyToFeelHowItGoes')]

/** Above the next rung: why? What is played there is kept, but proves nothing by itself. */
export function JumpQuestion({ session, reason }: { session: PracticeSession; reason: string }) {
  return (
    <section className="jump" aria-label={t('stand.whyDidYouSkipRungs')}>
      <p>{t('stand.youSkippedRungsThisIsSaved')}</p>
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
          {t('stand.backToTheLadder')}
        </Button>
      </div>
    </section>
  )
}

/**
 * Repetitions that the server saved and does not count, and why. Below tall music the notice would come to lie
 * under the pad, and a tap would seem to do nothing: it is scrolled to.
 */
export function Doubts({ doubted }: { doubted: { id: string; say: string }[] }) {
  const notice = useRef<HTMLParagraphElement>(null)
  const last = doubted.at(-1)
  useEffect(() => {
    if (last) notice.current?.scrollIntoView({ block: 'nearest' })
  }, [last])
  if (!last) return null
  return (
    <p className="unsent doubts" role="status" ref={notice}>
      {t('stand.repetitionsAreSavedButNotCounted', { count: doubted.length, say: last.say })}
    </p>
  )
}
