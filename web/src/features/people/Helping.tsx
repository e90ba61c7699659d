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
  type PeopleWhoHelpOut,
  type SectionOut,
} from '../../api/gen'
import { keys } from '../../api/keys'
import { Failed, Loading } from '../../shared/ui/states'

const ROLES: { value: HelpIn['role']; label: string }[] = [
  { value: 'assistant', label: 'An assistant' },
  { value: 'helper', label: 'A helper' },
  { value: 'director', label: 'A second director' },
]
const NAMES: Record<HelpingOut['role'], string> = {
  director: 'Director',
  assistant: 'Assistant',
  helper: 'Helper',
  student: 'Student',
}

/** Everybody who helps: invited by a link, with the sections or the student they look after, and what each may do. */
export function Helping({ sections }: { sections: SectionOut[] }) {
  const helping = useQuery({ queryKey: keys.helping, queryFn: () => ask(listHelping()) })
  return (
    <section className="account" aria-label="People who help">
      <h2>People who help</h2>
      {helping.isPending && <Loading what="Asking around" />}
      {helping.isError && <Failed error={helping.error} retry={() => void helping.refetch()} />}
      {helping.data && (
        <>
          <ul className="names">
            {helping.data.people.map((one) => (
              <Person key={one.id} one={one} sections={sections} />
            ))}
          </ul>
          <Invite sections={sections} />
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
          {student && ` of ${student.name}`}
          {one.is_me && ', you'}
        </small>
      </span>
      <span className="row-actions">
        {one.role === 'assistant' && (
          <Select
            mode="multiple"
            showSearch={{ optionFilterProp: 'label' }}
            aria-label={`Sections of ${one.name}`}
            style={{ minWidth: 220 }}
            value={one.section_ids}
            loading={change.isPending}
            onChange={(ids: string[]) =>
              ids.length > 0 ? change.mutate(ids) : void message.info('An assistant has one section at least.')
            }
            options={sections.map((section) => ({ value: section.id, label: section.name }))}
          />
        )}
        {!one.is_me && !isSure && (
          <Button type="link" size="small" onClick={() => setSure(true)}>
            Dismiss
          </Button>
        )}
        {isSure && (
          <>
            <Button danger size="small" loading={leave.isPending} onClick={() => leave.mutate()}>
              Dismiss for good
            </Button>
            <Button type="text" size="small" onClick={() => setSure(false)}>
              Keep
            </Button>
          </>
        )}
      </span>
    </li>
  )
}

function Invite({ sections }: { sections: SectionOut[] }) {
  const { message } = App.useApp()
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
    onError: (error) => void message.error(said(error)),
  })
  const isReady = role === 'director' || (role === 'assistant' ? sectionIds.length > 0 : studentId !== null)
  const link = asked.data ? `${window.location.origin}/invited/${asked.data.token}` : ''
  return (
    <>
      <div className="inline">
        <span>Invite</span>
        <Select aria-label="Whom to invite" value={role} options={ROLES} onChange={setRole} style={{ minWidth: 160 }} />
        {role === 'assistant' && (
          <Select
            mode="multiple"
            showSearch={{ optionFilterProp: 'label' }}
            aria-label="For which sections"
            placeholder="for which sections"
            value={sectionIds}
            onChange={setSectionIds}
            options={sections.map((section) => ({ value: section.id, label: section.name }))}
            style={{ minWidth: 240 }}
          />
        )}
        {role === 'helper' && (
          <Select
            aria-label="For which student"
            placeholder="for which student"
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
          Make a link
        </Button>
      </div>
      {asked.data && (
        <p role="status">
          Send this link; it works once, for {asked.data.days} days: <strong className="code">{link}</strong>
        </p>
      )}
    </>
  )
}

const SHOWN: HelpingOut['role'][] = ['director', 'assistant', 'helper', 'student']

function Rights({ helping }: { helping: PeopleWhoHelpOut }) {
  return (
    <details>
      <summary>Who may do what</summary>
      <table className="plain rights">
        <thead>
          <tr>
            <th scope="col">May</th>
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
                <td key={role}>{right.roles.includes(role) ? 'yes' : <span className="muted">no</span>}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="muted">
        An assistant has all this for their sections alone, a helper for one student’s sheets, a student for themselves.
        A student who leads a section also writes marks that reach it.
      </p>
    </details>
  )
}
