import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Form, Input } from 'antd'
import { useNavigate, useParams } from 'react-router'
import { ask, said } from '../../api/ask'
import { acceptInvitation, getInvitation, type AcceptIn, type InvitedOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { Failed, Loading } from '../../shared/ui/states'
import './signin.css'

const INVITED: Record<InvitedOut['role'], string> = {
  director: 'You are invited to direct here.',
  assistant: 'You are invited to assist here.',
  helper: 'You are invited to help a student here.',
  student: '',
}

/** Somebody who helps makes an account by an invitation. */
export default function Invited() {
  const { token = '' } = useParams()
  const client = useQueryClient()
  const navigate = useNavigate()
  const invited = useQuery({
    queryKey: keys.invitation(token),
    queryFn: () => ask(getInvitation({ path: { token } })),
    retry: false,
  })
  const accept = useMutation({
    mutationFn: (values: AcceptIn) => ask(acceptInvitation({ path: { token }, body: values })),
    onSuccess: (me) => {
      client.setQueryData(keys.me, me)
      void navigate('/')
    },
  })
  if (invited.isPending) return <Loading what="Reading the invitation" />
  if (invited.isError) return <Failed error={invited.error} retry={() => void invited.refetch()} />
  return (
    <main className="door">
      <h1>{invited.data.program}</h1>
      <p className="lead">{INVITED[invited.data.role]} Make your account.</p>
      {accept.isError && <Alert type="error" showIcon title={said(accept.error)} role="alert" />}
      <Form<AcceptIn> layout="vertical" requiredMark={false} onFinish={(values) => accept.mutate(values)}>
        <Form.Item label="Your name" name="name" rules={[{ required: true, message: 'As students know you.' }]}>
          <Input autoFocus autoComplete="name" />
        </Form.Item>
        <Form.Item
          label="Email"
          name="email"
          rules={[{ required: true, type: 'email', message: 'An address to sign in with.' }]}
        >
          <Input autoComplete="username" />
        </Form.Item>
        <Form.Item
          label="Password"
          name="password"
          extra="At least ten characters."
          rules={[{ required: true, min: 10, message: 'At least ten characters.' }]}
        >
          <Input.Password autoComplete="new-password" />
        </Form.Item>
        <Button type="primary" htmlType="submit" size="large" block loading={accept.isPending}>
          Make the account
        </Button>
      </Form>
    </main>
  )
}
