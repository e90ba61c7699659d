import { OwnSecrets } from './OwnSecrets'

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
