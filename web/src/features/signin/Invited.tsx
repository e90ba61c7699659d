import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Form, Input } from 'antd'
import { useNavigate, useParams } from 'react-router'
import { ask, said } from '../../api/ask'
import { acceptInvitation, getInvitation, type AcceptIn, type InvitedOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'
import './signin.css'

const INVITED: Record<InvitedOut['role'], string> = {
  director: t('signin.youAreInvitedToDirectHere'),
  assistant: t('signin.youAreInvitedToAssistHere'),
  helper: t('signin.youAreInvitedToHelpA'),
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
  if (invited.isPending) return <Loading what={t('signin.loadingTheInvitation')} />
  if (invited.isError) return <Failed error={invited.error} retry={() => void invited.refetch()} />
  return (
    <main className="door">
      <h1>{invited.data.program}</h1>
      <p className="lead">{t('signin.makeYourAccount', { invited: INVITED[invited.data.role] })}</p>
      {accept.isError && <Alert type="error" showIcon title={said(accept.error)} role="alert" />}
      <Form<AcceptIn> layout="vertical" requiredMark={false} onFinish={(values) => accept.mutate(values)}>
        <Form.Item
          label={t('signin.yourName')}
          name="name"
          rules={[{ required: true, message: t('signin.yourNameAsStudentsKnowIt') }]}
        >
          <Input autoFocus autoComplete="name" />
        </Form.Item>
        <Form.Item
          label={t('signin.email')}
          name="email"
          rules={[{ required: true, type: 'email', message: t('signin.anAddressToSignInWith') }]}
        >
          <Input autoComplete="username" />
        </Form.Item>
        <Form.Item
          label={t('signin.password')}
          name="password"
          extra={t('signin.atLeastTenCharacters')}
          rules={[{ required: true, min: 10, message: t('signin.atLeastTenCharacters') }]}
        >
          <Input.Password autoComplete="new-password" />
        </Form.Item>
        <Button type="primary" htmlType="submit" size="large" block loading={accept.isPending}>
          {t('signin.makeTheAccount')}
        </Button>
      </Form>
    </main>
  )
}
