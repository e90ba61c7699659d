import { useEffect, useId, useRef, type ReactNode } from 'react'
import { t } from '../../words/words'

interface Props {
  isOpen: boolean
  close: () => void
  title: string
  children: ReactNode
}

/** Something to read or to choose, over the page: the browser's own, so that it weighs nothing. */
export function Dialog({ isOpen, close, title, children }: Props) {
  const ref = useRef<HTMLDialogElement>(null)
  const id = useId()
  useEffect(() => {
    const dialog = ref.current
    if (isOpen && dialog && !dialog.open) dialog.showModal()
    if (!isOpen && dialog?.open) dialog.close()
  }, [isOpen])
  if (!isOpen) return null
  return (
    <dialog
      ref={ref}
      role="dialog"
      className="dialog"
      aria-labelledby={id}
      onClose={close}
      onClick={(event) => {
        if (event.target === ref.current) close()
      }}
    >
      <div>
        <h2 id={id}>{title}</h2>
        {children}
        <button type="button" className="close" onClick={close}>
          {t('shared.close')}
        </button>
      </div>
    </dialog>
  )
}
