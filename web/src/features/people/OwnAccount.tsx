import { OwnSecrets } from './OwnSecrets'
import './people.css'

/** The account of somebody who helps. */
export default function OwnAccount() {
  return (
    <div className="page">
      <h1>Account</h1>
      <section className="account" aria-label="Account">
        <OwnSecrets />
      </section>
    </div>
  )
}
