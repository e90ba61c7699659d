import { Button, Spin } from 'antd'
import type { ReactNode } from 'react'
import { said } from '../../api/ask'
import { t } from '../../words/words'

/** What is waited for; something turns only where that takes long: it would take time from what is waited for. */
export function Loading({ what }: { what: string }) {
  return (
    <div className="state" role="status">
      <Spin delay={400} />
      <p>{what}</p>
    </div>
  )
}

export function Failed({ error, retry }: { error: unknown; retry?: () => void }) {
  return (
    <div className="state" role="alert">
      <p>{said(error)}</p>
      {retry && <Button onClick={retry}>{t('shared.tryAgain')}</Button>}
    </div>
  )
}

export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="state empty">
      <h2>{title}</h2>
      {children}
    </div>
  )
}
