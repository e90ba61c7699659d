import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useWords } from '../../shared/lib/words'
import { Alert, Button, Form, Input, InputNumber, Modal, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { addOnPaper } from '../../api/gen'
import { keys } from '../../api/keys'
import { useInstruments } from '../../shared/lib/part.queries'
import { lettersOf } from './letters'

interface Wish {
  title: string
  composer?: string
  playedOn: string
  measures: number
  first: number
  time: string
  pickup: number
  goal: number
  letters?: string
}

const AT_FIRST = { first: 1, time: '4/4', pickup: 0, goal: 100 }

/** A part that stays on paper: only its measures are known here, and that is enough to divide, send and count it. */
export function OnPaper() {
  const w = useWords()
  const [isOpen, setOpen] = useState(false)
  const [form] = Form.useForm<Wish>()
  const instruments = useInstruments()
  const client = useQueryClient()
  const add = useMutation({
    mutationFn: (wish: Wish) =>
      ask(
        addOnPaper({
          body: {
            title: wish.title,
            composer: wish.composer ?? '',
            played_on: wish.playedOn,
            measures: wish.measures,
            first: wish.first,
            time: wish.time,
            pickup: String(wish.pickup),
            goal_bpm: wish.goal,
            letters: lettersOf(wish.letters ?? '') ?? [],
          },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.pieces })
      setOpen(false)
      form.resetFields()
    },
  })
  return (
    <>
      <Button size="large" onClick={() => setOpen(true)}>
        Music on paper
      </Button>
      <Modal
        open={isOpen}
        title="Music that stays on paper"
        okText="Add it"
        okButtonProps={{ loading: add.isPending, htmlType: 'submit', form: 'on-paper' }}
        onCancel={() => setOpen(false)}
      >
        <p className="muted">
          {w(
            'No file? Say how many measures the part has. They can be divided, sent, counted and graded; the notes are read from the page.',
          )}
        </p>
        <Form
          id="on-paper"
          form={form}
          layout="vertical"
          initialValues={AT_FIRST}
          onFinish={(wish) => add.mutate(wish)}
          className="on-paper-form"
        >
          <Form.Item
            name="title"
            label="Title"
            className="wide"
            rules={[{ required: true, whitespace: true, message: 'What is the piece called?' }]}
          >
            <Input maxLength={200} />
          </Form.Item>
          <Form.Item name="composer" label="Composer">
            <Input maxLength={200} />
          </Form.Item>
          <Form.Item
            name="playedOn"
            label="Played on"
            rules={[{ required: true, message: 'Which instrument plays it?' }]}
          >
            <Select showSearch options={(instruments.data ?? []).map((name) => ({ value: name, label: name }))} />
          </Form.Item>
          <Form.Item
            name="measures"
            label={w('Full measures')}
            rules={[{ required: true, message: w('How many measures has it?') }]}
          >
            <InputNumber min={1} max={2000} precision={0} />
          </Form.Item>
          <Form.Item name="first" label="First number">
            <InputNumber min={1} max={9999} precision={0} />
          </Form.Item>
          <Form.Item name="time" label="Time" rules={[{ required: true, message: 'Say 4/4, 6/8 …' }]}>
            <Input maxLength={20} />
          </Form.Item>
          <Form.Item name="pickup" label="Beats of pickup">
            <InputNumber min={0} max={12} precision={0} />
          </Form.Item>
          <Form.Item name="goal" label="Goal, beats a minute">
            <InputNumber min={20} max={300} precision={0} />
          </Form.Item>
          <Form.Item
            name="letters"
            label={w('Letters and their measures')}
            extra="Such as A 9, B 23"
            rules={[
              {
                validator: (_, text?: string) =>
                  lettersOf(text ?? '')
                    ? Promise.resolve()
                    : Promise.reject(new Error(w('Say each letter and its measure: A 9, B 23.'))),
              },
            ]}
          >
            <Input maxLength={400} />
          </Form.Item>
        </Form>
        {add.isError && <Alert type="error" showIcon title={said(add.error)} />}
      </Modal>
    </>
  )
}
