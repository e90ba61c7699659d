import type { StandOut } from '../../api/gen'
import { Dialog } from '../../shared/ui/Dialog'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

const KEYS: [string, string][] = [
  [t('stand.space'), t('stand.clickOnAndOff')],
  [t('stand.orPedalForward'), t('stand.cleanLower')],
  [t('stand.orPedalBack'), t('stand.slipLower')],
  ['↑ ↓', t('stand.tempo')],
  [t('stand.enter'), t('stand.nextStepLower')],
  ['P', t('stand.playTheNotesLower')],
  ['N', t('stand.theNextStretchInADrill')],
  ['U', t('stand.undo')],
  [t('stand.esc'), t('stand.backToTodayLower')],
]

export function Help({ isOpen, close, stand }: { isOpen: boolean; close: () => void; stand: StandOut }) {
  return (
    <Dialog isOpen={isOpen} close={close} title={t('stand.keysAndWhatCounts')}>
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
        <strong>{t('stand.cleanMeans')}</strong> {stand.clean_means}
      </p>
      <p>
        <strong>{t('stand.onASlip')}</strong> {stand.on_slip}
      </p>
      <p>
        <Say it="stand.afterAPlacePlayIntoThe" components={[<strong />]} />
      </p>
      {stand.caution && <p>{stand.caution}</p>}
      <p className="caution">{t('stand.painNumbnessOrTinglingStopRest')}</p>
    </Dialog>
  )
}
