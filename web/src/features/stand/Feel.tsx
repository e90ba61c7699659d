import { Button } from 'antd'
import { useState } from 'react'
import type { Said } from '../../shared/lib/diary'
import { Dialog } from '../../shared/ui/Dialog'

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
    title: 'Tired',
    say: 'Five minutes off: put it down, drink something, move. What is left today carries over by itself.',
  },
  tight: {
    title: 'Tight',
    say: 'Stop. Shake out hands and jaw, breathe out slowly. Then half the tempo and half as loud; if it is tight again, leave it for today. Your teacher sees that you said so.',
  },
  hurts: {
    title: 'It hurts',
    say: 'Stop now and rest. Your teacher sees that you said so: talk to them before you play on. Pain, numbness, tingling, or a hand or jaw that locks are for a clinician to look at, not for an app.',
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
    <Dialog isOpen={isOpen} close={end} title={said ? FOLLOWS[said].title : 'How does it feel?'}>
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
              End it here for now
            </Button>
            {said !== 'hurts' && <Button onClick={end}>Go on later from here</Button>}
          </div>
        </>
      )}
    </Dialog>
  )
}
