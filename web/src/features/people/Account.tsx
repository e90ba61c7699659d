import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, AutoComplete, Button, Form, Input, Segmented } from 'antd'
import { ask, said } from '../../api/ask'
import { changePassword, changeProgram, endOtherSessions, inviteDirector, type Me, type PasswordIn, type ProgramIn } from '../../api/gen'

const ZONES = Intl.supportedValuesOf('timeZone').map((value) => ({ value }))

const WORDS: { value: Me['words']; label: string }[] = [
  { value: 'us', label: 'US: measure, quarter note' },
  { value: 'uk', label: 'UK: bar, crotchet' },
]
const PAPERS: { value: Me['paper']; label: string }[] = [
  { value: 'us-letter', label: 'US Letter' },
  { value: 'a4', label: 'A4' },
]

/** The school's time zone, words and paper, a second director, one's own password and sessions. */
export function Account({ me }: { me: Me }) {
  const client = useQueryClient()
  const { message } = App.useApp()
  const [form] = Form.useForm<PasswordIn>()
  const onError = (error: Error) => void message.error(said(error))
  const zone = useMutation({
    mutationFn: (time_zone: string) => ask(changeProgram({ body: { time_zone } })),
    onSuccess: (now) => {
      client.setQueryData(['me'], now)
      void message.success(`A day now begins at midnight in ${now.time_zone}.`)
    },
    onError,
  })
  const program = useMutation({
    mutationFn: (change: ProgramIn) => ask(changeProgram({ body: change })),
    onSuccess: async (now) => {
      client.setQueryData(['me'], now)
      // Everything that was said in the old words is asked for again.
      await client.invalidateQueries()
      void message.success(`${now.words === 'uk' ? 'UK' : 'US'} words, sheets on ${now.paper === 'a4' ? 'A4' : 'US Letter'}.`)
    },
    onError,
  })
  const invite = useMutation({ mutationFn: () => ask(inviteDirector()), onError })
  const password = useMutation({
    mutationFn: (body: PasswordIn) => ask(changePassword({ body })),
    onSuccess: () => {
      form.resetFields()
      void message.success('The password is changed; everywhere else you are signed out.')
    },
    onError,
  })
  const others = useMutation({
    mutationFn: () => ask(endOtherSessions()),
    onSuccess: ({ ended }) => void message.success(ended === 1 ? 'One other session was ended.' : `${ended} other sessions were ended.`),
    onError,
  })
  const link = invite.data ? `${window.location.origin}/invited/${invite.data.token}` : ''
  return (
    <section className="account" aria-label="School and account">
      <h2>School and account</h2>
      <form
        className="inline"
        onSubmit={(event) => {
          event.preventDefault()
          const chosen = new FormData(event.currentTarget).get('zone')
          if (typeof chosen === 'string') zone.mutate(chosen)
        }}
      >
        <label htmlFor="zone">Time zone of the school</label>
        <ZoneField start={me.time_zone} />
        <Button htmlType="submit" loading={zone.isPending}>
          Set
        </Button>
      </form>
      <div className="inline">
        <span id="words-label">Words</span>
        <Segmented aria-labelledby="words-label" options={WORDS} value={me.words} onChange={(words) => program.mutate({ words })} />
        <span id="paper-label">Paper for sheets</span>
        <Segmented aria-labelledby="paper-label" options={PAPERS} value={me.paper} onChange={(paper) => program.mutate({ paper })} />
      </div>
      <div className="inline">
        <Button onClick={() => invite.mutate()} loading={invite.isPending}>
          Invite a second director
        </Button>
        {invite.data && (
          <p role="status">
            Send this link; it works once, for {invite.data.days} days: <strong className="code">{link}</strong>
          </p>
        )}
      </div>
      <Form<PasswordIn> form={form} layout="inline" className="inline" onFinish={(body) => password.mutate(body)}>
        <Form.Item name="old" label="Old password" rules={[{ required: true, message: 'The one you have now.' }]}>
          <Input.Password autoComplete="current-password" />
        </Form.Item>
        <Form.Item name="new" label="New password" rules={[{ required: true, min: 10, message: 'At least ten characters.' }]}>
          <Input.Password autoComplete="new-password" />
        </Form.Item>
        <Button htmlType="submit" loading={password.isPending}>
          Change password
        </Button>
      </Form>
      <Button onClick={() => others.mutate()} loading={others.isPending}>
        Sign out everywhere else
      </Button>
    </section>
  )
}

function ZoneField({ start }: { start: string }) {
  return (
    <AutoComplete
      defaultValue={start}
      options={ZONES}
      showSearch={{ filterOption: (typed, option) => (option?.value ?? '').toLowerCase().includes(typed.toLowerCase()) }}
    >
      <Input id="zone" name="zone" />
    </AutoComplete>
  )
}
