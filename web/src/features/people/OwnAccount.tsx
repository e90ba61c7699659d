import { OwnSecrets } from './OwnSecrets'
import { t } from '../../words/words'
import './people.css'

/** The account of somebody who helps. */
export default function OwnAccount() {
  return (
    <div className="page">
      <h1>{t('people.account')}</h1>
      <section className="account" aria-label={t('people.account')}>
        <OwnSecrets />
      </section>
    </div>
  )
}
