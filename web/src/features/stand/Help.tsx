import type { StandOut } from '../../api/gen'
import { Dialog } from '../../shared/ui/Dialog'

const KEYS: [string, string][] = [
  ['Space', 'click on and off'],
  ['→ or pedal forward', 'clean'],
  ['← or pedal back', 'slip'],
  ['↑ ↓', 'tempo'],
  ['Enter', 'next step'],
  ['P', 'play the notes'],
  ['N', 'the next stretch, where one stops and looks ahead'],
  ['U', 'undo'],
  ['Esc', 'back to today'],
]

export function Help({ isOpen, close, stand }: { isOpen: boolean; close: () => void; stand: StandOut }) {
  return (
    <Dialog isOpen={isOpen} close={close} title="Keys, and what counts">
      <dl className="keys">
        {KEYS.map(([key, act]) => (
          <div key={key}>
            <dt>
              <kbd>{key}</kbd>
            </dt>
            <dd>{act}</dd>
          </div>
        ))}
      </dl>
      <p>
        <strong>Clean means:</strong> {stand.clean_means}
      </p>
      <p>
        <strong>On a slip:</strong> {stand.on_slip}
      </p>
      <p>
        <strong>→ after a place:</strong> run into the next note and stop on it.
      </p>
      {stand.caution && <p>{stand.caution}</p>}
      <p className="caution">
        Pain, numbness or tingling: stop, rest, and tell your teacher; a clinician decides what it is. Keep the click
        low in headphones. Brass and reeds rest about as long as they play.
      </p>
    </Dialog>
  )
}
