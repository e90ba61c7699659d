import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Alert, App, Button, Input } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { addStudents, createSection, renewPin, setLeader, type Me, type PinOut, type SectionOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { useSections } from '../../shared/hooks/part.queries'
import { Account } from './Account'
import { Helping } from './Helping'
import { Rules } from './Rules'
import { TakeRules } from './TakeRules'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'
import { Say } from '../../words/Say'
import './people.css'

export default function People({ me }: { me: Me }) {
  const sections = useSections()
  const client = useQueryClient()
  const [name, setName] = useState('')
  const create = useMutation({
    mutationFn: () => ask(createSection({ body: { name } })),
    onSuccess: () => {
      setName('')
      return client.invalidateQueries({ queryKey: keys.sections })
    },
  })
  return (
    <div className="page">
      <div className="page-head">
        <div>
          <h1>{t('people.people')}</h1>
          <p className="lead">
            <Say
              it="people.studentsSignInWithTheClass"
              values={{ classCode: me.class_code }}
              components={[<strong className="code" />]}
            />
          </p>
        </div>
        <form
          className="inline"
          onSubmit={(event) => {
            event.preventDefault()
            create.mutate()
          }}
        >
          <Input
            aria-label={t('people.nameOfTheNewSection')}
            placeholder={t('people.newSection')}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button htmlType="submit" type="primary" disabled={!name.trim()} loading={create.isPending}>
            {t('people.addSection')}
          </Button>
        </form>
      </div>
      {create.isError && <Alert type="error" showIcon title={said(create.error)} role="alert" />}
      {sections.isPending && <Loading what={t('people.loadingYourStudents')} />}
      {sections.isError && <Failed error={sections.error} retry={() => void sections.refetch()} />}
      {sections.data?.length === 0 && (
        <Empty title={t('people.noSectionYet')}>
          <p>{t('people.nameYourFirstSectionAboveThen')}</p>
        </Empty>
      )}
      {sections.data?.map((section) => (
        <Section key={section.id} section={section} />
      ))}
      {sections.data && <Helping sections={sections.data} />}
      <Account me={me} />
      <TakeRules />
      <Rules />
    </div>
  )
}

function Section({ section }: { section: SectionOut }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const [names, setNames] = useState('')
  const [pins, setPins] = useState<PinOut[]>([])
  const [isAdding, setAdding] = useState(section.students.length === 0)
  const add = useMutation({
    mutationFn: () => ask(addStudents({ path: { section_id: section.id }, body: { names: names.split('\n') } })),
    onSuccess: (made) => {
      setNames('')
      setPins(made)
      setAdding(false)
      return client.invalidateQueries({ queryKey: keys.sections })
    },
  })
  const renew = useMutation({
    mutationFn: (id: string) => ask(renewPin({ path: { student_id: id } })),
    onSuccess: (made) => setPins([made]),
    onError: (error) => void message.error(said(error)),
  })
  const lead = useMutation({
    mutationFn: ({ id, is_leader }: { id: string; is_leader: boolean }) =>
      ask(setLeader({ path: { section_id: section.id, student_id: id }, body: { is_leader } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.sections }),
    onError: (error) => void message.error(said(error)),
  })
  return (
    <section className="roster" aria-label={section.name}>
      <h2>
        {section.name} <span className="muted">{section.students.length}</span>
      </h2>
      {pins.length > 0 && (
        <div className="pins" role="status">
          <p>{t('people.writeThesePinsDownOrPrint')}</p>
          <ul>
            {pins.map((pin) => (
              <li key={pin.student_id}>
                {pin.name} <strong className="code">{pin.pin}</strong>
              </li>
            ))}
          </ul>
          <Button size="small" onClick={() => setPins([])}>
            {t('people.iWroteThemDown')}
          </Button>
        </div>
      )}
      <div className="roster-columns">
        <ul className="names">
          {section.students.map((student) => (
            <li key={student.id}>
              <span>
                {student.name}
                {student.is_leader && <small className="muted"> {t('people.sectionLeader')}</small>}
              </span>
              <span className="row-actions">
                <Button
                  type="link"
                  size="small"
                  onClick={() => lead.mutate({ id: student.id, is_leader: !student.is_leader })}
                >
                  {student.is_leader ? t('people.removeAsLeader') : t('people.makeLeader')}
                </Button>
                <Button type="link" size="small" onClick={() => renew.mutate(student.id)}>
                  {t('people.newPin')}
                </Button>
              </span>
            </li>
          ))}
          {section.students.length === 0 && <li className="muted">{t('people.nobodyYet')}</li>}
        </ul>
        <div>
          {isAdding ? (
            <>
              <Input.TextArea
                aria-label={t('people.newStudentsInOneNameOn', { name: section.name })}
                placeholder={t('people.oneNameOnEachLine')}
                autoSize={{ minRows: 2, maxRows: 8 }}
                value={names}
                onChange={(event) => setNames(event.target.value)}
              />
              {add.isError && <Alert type="error" showIcon title={said(add.error)} role="alert" />}
              <Button type="primary" onClick={() => add.mutate()} disabled={!names.trim()} loading={add.isPending}>
                {t('people.addStudents')}
              </Button>
            </>
          ) : (
            <Button onClick={() => setAdding(true)}>{t('people.addStudents2')}</Button>
          )}
        </div>
      </div>
    </section>
  )
}
