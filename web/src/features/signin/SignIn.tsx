import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Form, Input, Segmented } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { signInDirector, signInStudent, type DirectorSignIn, type Me, type StudentSignIn } from '../../api/gen'
import { keys } from '../../api/keys'
import './signin.css'

type Role = 'student' | 'director'

export default function SignIn() {
  const [role, setRole] = useState<Role>('student')
  const client = useQueryClient()
  const enter = useMutation({
    mutationFn: (values: StudentSignIn | DirectorSignIn): Promise<Me> =>
      'pin' in values ? ask(signInStudent({ body: values })) : ask(signInDirector({ body: values })),
    onSuccess: (me) => {
      client.setQueryData(keys.me, me)
    },
  })
  return (
    <main className="door">
      <h1>Crumb</h1>
      <p className="lead">Small pieces, played right, put together again.</p>
      <Segmented<Role>
        block
        value={role}
        onChange={(next) => {
          setRole(next)
          enter.reset()
        }}
        options={[
          { label: 'I play', value: 'student' },
          { label: 'I direct', value: 'director' },
        ]}
      />
      {enter.isError && <Alert type="error" showIcon title={said(enter.error)} role="alert" />}
      {role === 'student' ? (
        <Form<StudentSignIn> key="student" layout="vertical" requiredMark={false} onFinish={(v) => enter.mutate(v)}>
          <Form.Item
            label="Class code"
            name="class_code"
            rules={[{ required: true, message: 'The code from your director.' }]}
          >
            <Input autoCapitalize="characters" autoComplete="off" autoFocus />
          </Form.Item>
          <Form.Item label="Your name" name="name" rules={[{ required: true, message: 'As your director wrote it.' }]}>
            <Input autoComplete="name" />
          </Form.Item>
          <Form.Item label="PIN" name="pin" rules={[{ required: true, message: 'From your director.' }]}>
            <Input.Password inputMode="numeric" autoComplete="current-password" />
          </Form.Item>
          <Button type="primary" htmlType="submit" size="large" block loading={enter.isPending}>
            To my music
          </Button>
        </Form>
      ) : (
        <Form<DirectorSignIn> key="director" layout="vertical" requiredMark={false} onFinish={(v) => enter.mutate(v)}>
          <Form.Item label="Email" name="email" rules={[{ required: true, message: 'Your address.' }]}>
            <Input type="email" autoComplete="username" autoFocus />
          </Form.Item>
          <Form.Item label="Password" name="password" rules={[{ required: true, message: 'Your password.' }]}>
            <Input.Password autoComplete="current-password" />
          </Form.Item>
          <Button type="primary" htmlType="submit" size="large" block loading={enter.isPending}>
            To my program
          </Button>
        </Form>
      )}
    </main>
  )
}
