import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Form, Input, Segmented } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { signInDirector, signInStudent, type DirectorSignIn, type Me, type StudentSignIn } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'
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
      <h1>{t('signin.crumb')}</h1>
      <p className="lead">{t('signin.smallPiecesPlayedRightPutTogether')}</p>
      <Segmented<Role>
        block
        value={role}
        onChange={(next) => {
          setRole(next)
          enter.reset()
        }}
        options={[
          { label: t('signin.iPlay'), value: 'student' },
          { label: t('signin.iDirect'), value: 'director' },
        ]}
      />
      {enter.isError && <Alert type="error" showIcon title={said(enter.error)} role="alert" />}
      {role === 'student' ? (
        <Form<StudentSignIn> key="student" layout="vertical" requiredMark={false} onFinish={(v) => enter.mutate(v)}>
          <Form.Item
            label={t('signin.classCode')}
            name="class_code"
            rules={[{ required: true, message: t('signin.yourDirectorGaveYouThisCode') }]}
          >
            <Input autoCapitalize="characters" autoComplete="off" autoFocus />
          </Form.Item>
          <Form.Item
            label={t('signin.yourName')}
            name="name"
            rules={[{ required: true, message: t('signin.yourNameAsYourDirectorWrote') }]}
          >
            <Input autoComplete="name" />
          </Form.Item>
          <Form.Item
            label={t('signin.pin')}
            name="pin"
            rules={[{ required: true, message: t('signin.yourDirectorGaveYouThis') }]}
          >
            <Input.Password inputMode="numeric" autoComplete="current-password" />
          </Form.Item>
          <Button type="primary" htmlType="submit" size="large" block loading={enter.isPending}>
            {t('signin.toMyMusic')}
          </Button>
        </Form>
      ) : (
        <Form<DirectorSignIn> key="director" layout="vertical" requiredMark={false} onFinish={(v) => enter.mutate(v)}>
          <Form.Item
            label={t('signin.email')}
            name="email"
            rules={[{ required: true, message: t('signin.yourAddress') }]}
          >
            <Input type="email" autoComplete="username" autoFocus />
          </Form.Item>
          <Form.Item
            label={t('signin.password')}
            name="password"
            rules={[{ required: true, message: t('signin.yourPassword') }]}
          >
            <Input.Password autoComplete="current-password" />
          </Form.Item>
          <Button type="primary" htmlType="submit" size="large" block loading={enter.isPending}>
            {t('signin.toMyProgram')}
          </Button>
        </Form>
      )}
    </main>
  )
}
