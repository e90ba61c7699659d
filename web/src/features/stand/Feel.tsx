import { Button } from 'antd'
import { useState } from 'react'
import type { Said } from '../../shared/hooks/diary'
import { Dialog } from '../../shared/ui/Dialog'
import { t } from '../../words/words'

type Feeling = Extract<Said, { kind: 'feeling' }>['what']

interface Props {
  isOpen: boolean
  close: () => void
  /** It is said; the teacher sees it. */
  say: (what: Feeling) => void
  leave: () => void
}

const FOLLOWS: Record<Feeling, { title: string; say: string }> = {
  tired: {
    title: t('stand.tired'),
    say: t('stand.takeFiveMinutesOffPutThe'),
  },
  tight: {
    title: t('stand.tight'),
    say: t('stand.stopShakeOutYourHandsAnd'),
  },
  hurts: {
    title: t('stand.itHurts'),
    say: t('stand.stopNowAndRestYourTeacher'),
  },
}

/** Two taps say how it feels; then what follows from it. */
export function Feel({ isOpen, close, say, leave }: Props) {
  const [said, setSaid] = useState<Feeling | null>(null)
  const end = () => {
    setSaid(null)
    close()
  }
  return (
    <Dialog isOpen={isOpen} close={end} title={said ? FOLLOWS[said].title : t('stand.howDoesItFeel')}>
      {said === null ? (
        <div className="feel">
          {(Object.keys(FOLLOWS) as Feeling[]).map((one) => (
            <Button
              key={one}
              size="large"
              block
              onClick={() => {
                say(one)
                setSaid(one)
              }}
            >
              {FOLLOWS[one].title}
            </Button>
          ))}
        </div>
      ) : (
        <>
          <p role="status">{FOLLOWS[said].say}</p>
          <div className="inline">
            <Button type="primary" onClick={leave}>
              {t('stand.stopHereForNow')}
            </Button>
            {said !== 'hurts' && <Button onClick={end}>{t('stand.goOnLaterFromHere')}</Button>}
          </div>
        </>
      )}
    </Dialog>
  )
}
