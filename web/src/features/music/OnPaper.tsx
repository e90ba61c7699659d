import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Alert, Button, Form, Input, InputNumber, Modal, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { addOnPaper } from '../../api/gen'
import { keys } from '../../api/keys'
import { useInstruments } from '../../shared/hooks/part.queries'
import { lettersOf } from './letters'
import { t } from '../../words/words'

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
        {t('music.musicOnPaper')}
      </Button>
      <Modal
        open={isOpen}
        title={t('music.musicOnPaper2')}
        okText={t('music.addIt')}
        okButtonProps={{ loading: add.isPending, htmlType: 'submit', form: 'on-paper' }}
        onCancel={() => setOpen(false)}
      >
        <p className="muted">{t('music.noFileEnterHowManyMeasures')}</p>
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
            label={t('music.title')}
            className="wide"
            rules={[{ required: true, whitespace: true, message: t('music.whatIsThePieceCalled') }]}
          >
            <Input maxLength={200} />
          </Form.Item>
          <Form.Item name="composer" label={t('music.composer')}>
            <Input maxLength={200} />
          </Form.Item>
          <Form.Item
            name="playedOn"
            label={t('music.playedOn')}
            rules={[{ required: true, message: t('music.whichInstrumentPlaysIt') }]}
          >
            <Select showSearch options={(instruments.data ?? []).map((name) => ({ value: name, label: name }))} />
          </Form.Item>
          <Form.Item
            name="measures"
            label={t('music.fullMeasures')}
            rules={[{ required: true, message: t('music.howManyMeasuresDoesItHave') }]}
          >
            <InputNumber min={1} max={2000} precision={0} />
          </Form.Item>
          <Form.Item name="first" label={t('music.firstNumber')}>
            <InputNumber min={1} max={9999} precision={0} />
          </Form.Item>
          <Form.Item
            name="time"
            label={t('music.time')}
            rules={[{ required: true, message: t('music.writeAMeterSuchAs4') }]}
          >
            <Input maxLength={20} />
          </Form.Item>
          <Form.Item name="pickup" label={t('music.beatsOfPickup')}>
            <InputNumber min={0} max={12} precision={0} />
          </Form.Item>
          <Form.Item name="goal" label={t('music.goalBeatsAMinute')}>
            <InputNumber min={20} max={300} precision={0} />
          </Form.Item>
          <Form.Item
            name="letters"
            label={t('music.lettersAndTheirMeasures')}
            extra={t('music.suchAsA9B23')}
            rules={[
              {
                validator: (_, text?: string) =>
                  lettersOf(text ?? '')
                    ? Promise.resolve()
                    : Promise.reject(new Error(t('music.writeEachLetterWithItsMeasure'))),
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
