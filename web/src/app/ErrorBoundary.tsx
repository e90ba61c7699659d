import { Component, type ReactNode } from 'react'
import { t } from '../words/words'

interface State {
  hasFailed: boolean
}

/** The last resort: a page that broke says so and offers to open itself again; nothing stored is lost. */
export class ErrorBoundary extends Component<{ children: ReactNode }, State> {
  override state: State = { hasFailed: false }

  static getDerivedStateFromError(): State {
    return { hasFailed: true }
  }

  override render() {
    if (!this.state.hasFailed) return this.props.children
    return (
      <div className="state" role="alert">
        <h1>{t('app.thisPageStoppedWorking')}</h1>
        <p>{t('app.nothingYouCountedOrSavedIs')}</p>
        <button type="button" onClick={() => window.location.reload()}>
          {t('app.openItAgain')}
        </button>
      </div>
    )
  }
}
