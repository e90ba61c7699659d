import { useMutation } from '@tanstack/react-query'
import { App, Button, Form, Input } from 'antd'
import { ask, said } from '../../api/ask'
import { changePassword, endOtherSessions, type PasswordIn } from '../../api/gen'

/** One's own password, and where else one is signed in. */
export function OwnSecrets() {
  const { message } = App.useApp()
  const [form] = Form.useForm<PasswordIn>()
  const onError = (error: Error) => void message.error(said(error))
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
    onSuccess: ({ ended }) =>
      void message.success(ended === 1 ? 'One other session was ended.' : `${ended} other sessions were ended.`),
    onError,
  })
  return (
    <>
      <Form<PasswordIn> form={form} layout="inline" className="inline" onFinish={(body) => password.mutate(body)}>
        <Form.Item name="old" label="Old password" rules={[{ required: true, message: 'The one you have now.' }]}>
          <Input.Password autoComplete="current-password" />
        </Form.Item>
        <Form.Item
          name="new"
          label="New password"
          rules={[{ required: true, min: 10, message: 'At least ten characters.' }]}
        >
          <Input.Password autoComplete="new-password" />
        </Form.Item>
        <Button htmlType="submit" loading={password.isPending}>
          Change password
        </Button>
      </Form>
      <Button onClick={() => others.mutate()} loading={others.isPending}>
        Sign out everywhere else
      </Button>
    </>
  )
}
