import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Form, Input } from 'antd'
import { hereZone } from '../../shared/lib/time'
import { ask, said } from '../../api/ask'
import { createFirstDirector, type FirstDirector } from '../../api/gen'
import { keys } from '../../api/keys'
import './signin.css'

export default function Setup() {
  const client = useQueryClient()
  const create = useMutation({
    mutationFn: (values: FirstDirector) => ask(createFirstDirector({ body: { ...values, time_zone: hereZone() } })),
    onSuccess: (me) => client.setQueryData(keys.me, me),
  })
  return (
    <main className="door">
      <h1>Welcome to Crumb</h1>
      <p className="lead">This server is new. Make the director’s account; everything else follows from there.</p>
      {create.isError && <Alert type="error" showIcon title={said(create.error)} role="alert" />}
      <Form<FirstDirector> layout="vertical" requiredMark={false} onFinish={(v) => create.mutate(v)}>
        <Form.Item
          label="School or program"
          name="program"
          rules={[{ required: true, message: 'What your students call it.' }]}
        >
          <Input autoFocus />
        </Form.Item>
        <Form.Item label="Your name" name="name" rules={[{ required: true, message: 'As students know you.' }]}>
          <Input autoComplete="name" />
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
        <Button type="primary" htmlType="submit" size="large" block loading={create.isPending}>
          Make the account
        </Button>
      </Form>
      <p className="caution">
        Student names, PINs and practice records stay in this server’s own database. Collect the least you need; your
        school’s rules and local law come first.
      </p>
    </main>
  )
}
