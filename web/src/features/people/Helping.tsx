import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import {
  changeHelping,
  dismiss,
  invite,
  listHelping,
  type HelpIn,
  type HelpingOut,
  type OpenInvitationOut,
  type PeopleWhoHelpOut,
  type SectionOut,
  takeInvitationBack,
} from '../../api/gen'
import { keys } from '../../api/keys'
import { day } from '../../shared/pure/time'
import { Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

const ROLES: { value: HelpIn['role']; label: string }[] = [
  { value: 'assistant', label: t('people.anAssistant') },
  { value: 'helper', label: t('people.aHelper') },
  { value: 'director', label: t('people.aSecondDirector') },
]
const NAMES: Record<HelpingOut['role'], string> = {
  director: t('people.director'),
  assistant: t('people.assistant'),
  helper: t('people.helper'),
  student: t('people.student'),
}

/** Everybody who helps: invited by a link, with the sections or the student they look after, and what each may do. */
export function Helping({ sections }: { sections: SectionOut[] }) {
  const helping = useQuery({ queryKey: keys.helping, queryFn: () => ask(listHelping()) })
  return (
    <section className="account" aria-label={t('people.peopleWhoHelp')}>
      <h2>{t('people.peopleWhoHelp')}</h2>
      {helping.isPending && <Loading what={t('people.loadingThePeopleWhoHelp')} />}
      {helping.isError && <Failed error={helping.error} retry={() => void helping.refetch()} />}
      {helping.data && (
        <>
          <ul className="names">
            {helping.data.people.map((one) => (
              <Person key={one.id} one={one} sections={sections} />
            ))}
          </ul>
          {helping.data.invitations.length > 0 && (
            <Invitations invitations={helping.data.invitations} sections={sections} />
          )}
          <Invite sections={sections} open={helping.data.invitations} />
          <Rights helping={helping.data} />
        </>
      )}
    </section>
  )
}

function Person({ one, sections }: { one: HelpingOut; sections: SectionOut[] }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const [isSure, setSure] = useState(false)
  const renew = () => client.invalidateQueries({ queryKey: keys.helping })
  const onError = (error: Error) => void message.error(said(error))
  const change = useMutation({
    mutationFn: (section_ids: string[]) => ask(changeHelping({ path: { person_id: one.id }, body: { section_ids } })),
    onSuccess: renew,
    onError,
  })
  const leave = useMutation({
    mutationFn: () => ask(dismiss({ path: { person_id: one.id } })),
    onSuccess: renew,
    onError,
  })
  const student = sections.flatMap((section) => section.students).find((row) => row.id === one.student_id)
  return (
    <li>
      <span>
        {one.name}{' '}
        <small className="muted">
          {NAMES[one.role]}
          {student && t('people.of', { name: student.name })}
          {one.is_me && t('people.you')}
        </small>
      </span>
      <span className="row-actions">
        {one.role === 'assistant' && (
          <Select
            mode="multiple"
            showSearch={{ optionFilterProp: 'label' }}
            aria-label={t('people.sectionsOf', { name: one.name })}
            style={{ minWidth: 220 }}
            value={one.section_ids}
            loading={change.isPending}
            onChange={(ids: string[]) =>
              ids.length > 0 ? change.mutate(ids) : void message.info(t('people.chooseAtLeastOneSectionFor'))
            }
            options={sections.map((section) => ({ value: section.id, label: section.name }))}
          />
        )}
        {!one.is_me && !isSure && (
          <Button type="link" size="small" onClick={() => setSure(true)}>
            {t('people.remove')}
          </Button>
        )}
        {isSure && (
          <>
            <Button danger size="small" loading={leave.isPending} onClick={() => leave.mutate()}>
              {t('people.removeForGood')}
            </Button>
            <Button type="text" size="small" onClick={() => setSure(false)}>
              {t('people.keep')}
            </Button>
          </>
        )}
      </span>
    </li>
  )
}

/** Links that still open: each can be taken back. */
function Invitations({ invitations, sections }: { invitations: OpenInvitationOut[]; sections: SectionOut[] }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const back = useMutation({
    mutationFn: (id: string) => ask(takeInvitationBack({ path: { invitation_id: id } })),
    onSettled: () => client.invalidateQueries({ queryKey: keys.helping }),
    onError: (error: Error) => void message.error(said(error)),
  })
  const students = sections.flatMap((section) => section.students)
  return (
    <>
      <h3>{t('people.openInvitations')}</h3>
      <ul className="names">
        {invitations.map((one) => {
          const named = sections.filter((section) => one.section_ids.includes(section.id)).map((it) => it.name)
          const student = students.find((row) => row.id === one.student_id)
          const whom = [NAMES[one.role], ...(student ? [student.name] : named)].join(' · ')
          return (
            <li key={one.id}>
              <span>
                {whom}{' '}
                <small className="muted">
                  {t('people.invitedByUntil', { name: one.made_by, day: day(one.expires_at.slice(0, 10)) })}
                </small>
              </span>
              <Button
                type="link"
                size="small"
                aria-label={t('people.takeBackInvitation', { whom })}
                loading={back.isPending && back.variables === one.id}
                onClick={() => back.mutate(one.id)}
              >
                {t('people.takeBack')}
              </Button>
            </li>
          )
        })}
      </ul>
    </>
  )
}

function Invite({ sections, open }: { sections: SectionOut[]; open: OpenInvitationOut[] }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const [role, setRole] = useState<HelpIn['role']>('assistant')
  const [sectionIds, setSectionIds] = useState<string[]>([])
  const [studentId, setStudentId] = useState<string | null>(null)
  const asked = useMutation({
    mutationFn: () =>
      ask(
        invite({
          body: {
            role,
            section_ids: role === 'assistant' ? sectionIds : [],
            student_id: role === 'helper' ? studentId : null,
          },
        }),
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.helping }),
    onError: (error) => void message.error(said(error)),
  })
  const isReady = role === 'director' || (role === 'assistant' ? sectionIds.length > 0 : studentId !== null)
  const link = asked.data ? `${window.location.origin}/invited/${asked.data.token}` : ''
  return (
    <>
      <div className="inline">
        <span>{t('people.invite')}</span>
        <Select
          aria-label={t('people.whoToInvite')}
          value={role}
          options={ROLES}
          onChange={setRole}
          style={{ minWidth: 160 }}
        />
        {role === 'assistant' && (
          <Select
            mode="multiple"
            showSearch={{ optionFilterProp: 'label' }}
            aria-label={t('people.forWhichSections')}
            placeholder={t('people.forWhichSectionsLower')}
            value={sectionIds}
            onChange={setSectionIds}
            options={sections.map((section) => ({ value: section.id, label: section.name }))}
            style={{ minWidth: 240 }}
          />
        )}
        {role === 'helper' && (
          <Select
            aria-label={t('people.forWhichStudent')}
            placeholder={t('people.forWhichStudentLower')}
            value={studentId}
            showSearch={{ optionFilterProp: 'label' }}
            onChange={setStudentId}
            options={sections.flatMap((section) =>
              section.students.map((row) => ({ value: row.id, label: `${row.name} · ${section.name}` })),
            )}
            style={{ minWidth: 240 }}
          />
        )}
        <Button disabled={!isReady} loading={asked.isPending} onClick={() => asked.mutate()}>
          {t('people.makeALink')}
        </Button>
      </div>
      {asked.data && open.some((one) => one.id === asked.data.id) && (
        <p role="status">
          <Say
            it="people.sendThisLinkItWorksOnce"
            values={{ days: asked.data.days, link }}
            components={[<strong className="code" />]}
          />
        </p>
      )}
    </>
  )
}

const SHOWN: HelpingOut['role'][] = ['director', 'assistant', 'helper', 'student']

function Rights({ helping }: { helping: PeopleWhoHelpOut }) {
  return (
    <details>
      <summary>{t('people.whoMayDoWhat')}</summary>
      <table className="plain rights">
        <thead>
          <tr>
            <th scope="col">{t('people.may')}</th>
            {SHOWN.map((role) => (
              <th key={role} scope="col">
                {NAMES[role]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {helping.rights.map((right) => (
            <tr key={right.say}>
              <th scope="row">{right.say}</th>
              {SHOWN.map((role) => (
                <td key={role}>
                  {right.roles.includes(role) ? t('people.yes') : <span className="muted">{t('people.no')}</span>}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="muted">{t('people.anAssistantHasTheseRightsFor')}</p>
    </details>
  )
}
