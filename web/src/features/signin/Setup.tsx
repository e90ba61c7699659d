import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Form, Input } from 'antd'
import { hereZone } from '../../shared/pure/time'
import { ask, said } from '../../api/ask'
import { createFirstDirector, type FirstDirector } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'
import './signin.css'

export default function Setup() {
  const client = useQueryClient()
  const create = useMutation({
    mutationFn: (values: FirstDirector) => ask(createFirstDirector({ body: { ...values, time_zone: hereZone() } })),
    onSuccess: (me) => client.setQueryData(keys.me, me),
  })
  return (
    <main className="door">
      <h1>{t('signin.welcomeToCrumb')}</h1>
      <p className="lead">{t('signin.thisServerIsNewMakeThe')}</p>
      {create.isError && <Alert type="error" showIcon title={said(create.error)} role="alert" />}
      <Form<FirstDirector> layout="vertical" requiredMark={false} onFinish={(v) => create.mutate(v)}>
        <Form.Item
          label={t('signin.schoolOrProgram')}
          name="program"
          rules={[{ required: true, message: t('signin.theNameYourStudentsUse') }]}
        >
          <Input autoFocus />
        </Form.Item>
        <Form.Item
          label={t('signin.yourName')}
          name="name"
          rules={[{ required: true, message: t('signin.yourNameAsStudentsKnowIt') }]}
        >
          <Input autoComplete="name" />
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
        <Button type="primary" htmlType="submit" size="large" block loading={create.isPending}>
          {t('signin.makeTheAccount')}
        </Button>
      </Form>
      <p className="caution">{t('signin.studentNamesPinsAndPracticeRecords')}</p>
    </main>
  )
}
