import { useMutation } from '@tanstack/react-query'
import { App, Button, Form, Input } from 'antd'
import { ask, said } from '../../api/ask'
import { changePassword, endOtherSessions, type PasswordIn } from '../../api/gen'
import { t } from '../../words/words'

/** One's own password, and where else one is signed in. */
export function OwnSecrets() {
  const { message } = App.useApp()
  const [form] = Form.useForm<PasswordIn>()
  const onError = (error: Error) => void message.error(said(error))
  const password = useMutation({
    mutationFn: (body: PasswordIn) => ask(changePassword({ body })),
    onSuccess: () => {
      form.resetFields()
      void message.success(t('people.yourPasswordIsChangedEverywhereElse'))
    },
    onError,
  })
  const others = useMutation({
    mutationFn: () => ask(endOtherSessions()),
    onSuccess: ({ ended }) => void message.success(t('people.youAreSignedOutInOther', { count: ended })),
    onError,
  })
  return (
    <>
      <Form<PasswordIn> form={form} layout="inline" className="inline" onFinish={(body) => password.mutate(body)}>
        <Form.Item
          name="old"
          label={t('people.oldPassword')}
          rules={[{ required: true, message: t('people.yourPasswordNow') }]}
        >
          <Input.Password autoComplete="current-password" />
        </Form.Item>
        <Form.Item
          name="new"
          label={t('people.newPassword')}
          rules={[{ required: true, min: 10, message: t('people.atLeastTenCharacters') }]}
        >
          <Input.Password autoComplete="new-password" />
        </Form.Item>
        <Button htmlType="submit" loading={password.isPending}>
          {t('people.changePassword')}
        </Button>
      </Form>
      <Button onClick={() => others.mutate()} loading={others.isPending}>
        {t('people.signOutEverywhereElse')}
      </Button>
    </>
  )
}
