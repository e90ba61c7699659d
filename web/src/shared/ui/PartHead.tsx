import { NavLink } from 'react-router'
import { useEffect, type ReactNode } from 'react'
import type { PartDetail } from '../../api/gen'
import { rememberPart } from '../hooks/lastPlace'
import { useAssignmentDraft } from '../hooks/assignmentDraft'
import { t } from '../../words/words'

interface Props {
  detail: PartDetail
  /** The chunk one is at: the bench opens on it. */
  chunkId?: string
  children?: ReactNode
}

/** Title of the part in hand and the way through it: split, drill, assign, plan. */
export function PartHead({ detail, chunkId, children }: Props) {
  const draft = useAssignmentDraft(detail.part.id)
  useEffect(() => rememberPart(detail.part.id), [detail.part.id])
  const base = `/parts/${detail.part.id}`
  return (
    <div className="part-head">
      <div>
        <h1>{detail.title}</h1>
        <p className="muted">{[detail.part.name, ...detail.objectives].join(' · ')}</p>
      </div>
      <nav aria-label={t('shared.thisPart')} className="path">
        <NavLink to={`${base}/split`}>{t('shared.split')}</NavLink>
        <NavLink to={`${base}/bench${chunkId ? `?chunk=${chunkId}` : ''}`}>{t('shared.drillBench')}</NavLink>
        <NavLink to={`${base}/assign`}>
          {t('shared.assign')} {draft.items.length > 0 && <span className="count">{draft.items.length}</span>}
        </NavLink>
        <NavLink to={`${base}/plan`}>{t('shared.plan')}</NavLink>
      </nav>
      {children}
    </div>
  )
}
