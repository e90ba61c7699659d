import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, InputNumber } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import { ask, said } from '../../api/ask'
import {
  changeAssignment,
  listAssignments,
  listOlderAssignments,
  removeAssignedDrill,
  restoreAssignedDrill,
  restoreAssignment,
  withdrawAssignment,
  type AssignmentOut,
} from '../../api/gen'
import { keys } from '../../api/keys'
import { day } from '../../shared/pure/time'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { PrintSheets } from './PrintSheets'
import { t } from '../../words/words'
import './assign.css'

export default function Sent() {
  const sent = useQuery({ queryKey: keys.assignments, queryFn: () => ask(listAssignments()) })
  return (
    <div className="page">
      <h1>{t('assign.assignments')}</h1>
      {sent.isPending && <Loading what={t('assign.loadingAssignments')} />}
      {sent.isError && <Failed error={sent.error} retry={() => void sent.refetch()} />}
      {sent.data?.length === 0 && (
        <Empty title={t('assign.nothingIsSentYet')}>
          <p>{t('assign.openAPartSplitItChoose')}</p>
          <Link to="/music">{t('assign.openMusic')}</Link>
        </Empty>
      )}
      <Sendings all={sent.data ?? []} />
      <Older />
    </div>
  )
}

/** What has left the lists of students: asked for, it is there. */
function Older() {
  const [isOpen, setOpen] = useState(false)
  const older = useQuery({
    queryKey: keys.olderAssignments,
    queryFn: () => ask(listOlderAssignments()),
    enabled: isOpen,
  })
  return (
    <details className="older" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>{t('assign.dueMoreThanTwoWeeksAgo')}</summary>
      {isOpen && older.isPending && <Loading what={t('assign.loadingAssignments')} />}
      {older.isError && <Failed error={older.error} retry={() => void older.refetch()} />}
      {older.data?.length === 0 && <p className="muted">{t('assign.nothing')}</p>}
      <Sendings all={older.data ?? []} />
    </details>
  )
}

function Sendings({ all }: { all: AssignmentOut[] }) {
  const sendings = new Map<string, AssignmentOut[]>()
  for (const one of all) sendings.set(one.sending_id, [...(sendings.get(one.sending_id) ?? []), one])
  return (
    <ul className="pieces">
      {[...sendings.values()].map((assignments) => (
        <Sending key={assignments[0]?.sending_id} assignments={assignments} />
      ))}
    </ul>
  )
}

/** What was sent in one go: one line a section, and a line for each exception. */
function Sending({ assignments }: { assignments: AssignmentOut[] }) {
  const client = useQueryClient()
  const { message } = App.useApp()
  const [isChanging, setChanging] = useState(false)
  const first = assignments[0] as AssignmentOut
  const change = useMutation({
    mutationFn: (call: () => Promise<AssignmentOut[]>) => call(),
    onSuccess: (list) => {
      client.setQueryData(keys.assignments, list)
      void client.invalidateQueries({ queryKey: keys.olderAssignments })
    },
    onError: (error) => void message.error(said(error)),
  })
  const path = { assignment_id: first.id }
  const sections = [...new Set(assignments.map((a) => a.section))]
  const students = assignments.reduce((sum, a) => sum + a.students, 0)
  const label = `${sections.join(', ')}: ${first.title}`
  return (
    <li className={first.withdrawn ? 'piece withdrawn' : 'piece'}>
      <div className="page-head">
        <div>
          <h2>{label}</h2>
          <p className="muted">
            {t('assign.studentsMinutesADayDue', {
              count: students,
              minutesADay: first.minutes_a_day,
              dueOn: day(first.due_on),
            })}
            {first.withdrawn && t('assign.takenBackWhatStudentsPlayedIs')}
          </p>
        </div>
        <span className="sent-actions">
          <Link to={`/wall?part=${first.part_id}&section=${first.section_id}`}>{t('assign.seeTheWall')}</Link>
          {!first.withdrawn && <PrintSheets assignmentId={first.id} label={label} />}
          {!first.withdrawn && (
            <Button
              onClick={() => setChanging(!isChanging)}
              aria-expanded={isChanging}
              aria-label={t('assign.changeOfLabel', { label })}
            >
              {t('assign.change')}
            </Button>
          )}
          <Button
            onClick={() =>
              change.mutate(() =>
                first.withdrawn ? ask(restoreAssignment({ path })) : ask(withdrawAssignment({ path })),
              )
            }
            loading={change.isPending}
          >
            {first.withdrawn ? t('assign.sendAgain') : t('assign.takeBack')}
          </Button>
        </span>
      </div>
      {isChanging && <ChangeForm first={first} save={(call) => change.mutate(call)} done={() => setChanging(false)} />}
      <ul className="sent-lines">
        {assignments.map((a) => (
          <li key={a.id}>
            {(assignments.length > 1 || a.exception !== '') && (
              <strong>
                {a.section}
                {a.exception !== '' &&
                  ` (${a.exception}${a.due_on === first.due_on ? '' : t('assign.dueOfDueOn2', { dueOn: day(a.due_on) })})`}
                :{' '}
              </strong>
            )}
            {assignments.length > 1 && a.exception === '' && (
              <span className="muted">{t('assign.reading', { part: a.part })} </span>
            )}
            {a.items.map((item) => (
              <span key={item.id} className={item.removed ? 'sent-item removed' : 'sent-item'}>
                {item.chunk} {item.drill}
                {item.role === 'upkeep' && t('assign.upkeepTail')}
                {isChanging && (
                  <Button
                    size="small"
                    type="text"
                    aria-label={t(item.removed ? 'assign.bringBackDrill' : 'assign.takeOutDrill', {
                      chunk: item.chunk,
                      drill: item.drill,
                      section: a.section,
                    })}
                    onClick={() =>
                      change.mutate(() =>
                        item.removed
                          ? ask(restoreAssignedDrill({ path: { item_id: item.id } }))
                          : ask(removeAssignedDrill({ path: { item_id: item.id } })),
                      )
                    }
                  >
                    {item.removed ? t('assign.bringBack') : t('assign.takeOut')}
                  </Button>
                )}
              </span>
            ))}
          </li>
        ))}
      </ul>
    </li>
  )
}

interface ChangeProps {
  first: AssignmentOut
  save: (call: () => Promise<AssignmentOut[]>) => void
  done: () => void
}

function ChangeForm({ first, save, done }: ChangeProps) {
  const [dueOn, setDueOn] = useState(first.due_on)
  const [minutes, setMinutes] = useState(first.minutes_a_day)
  const path = { assignment_id: first.id }
  const body = {
    ...(dueOn === first.due_on ? {} : { due_on: dueOn }),
    ...(minutes === first.minutes_a_day ? {} : { minutes_a_day: minutes }),
  }
  return (
    <form
      className="assign-fields"
      onSubmit={(event) => {
        event.preventDefault()
        save(() => ask(changeAssignment({ path, body })))
        done()
      }}
    >
      <label className="field">
        <span>{t('assign.due')}</span>
        <Input
          type="date"
          aria-label={t('assign.newDueDate')}
          value={dueOn}
          onChange={(event) => setDueOn(event.target.value)}
        />
      </label>
      <label className="field">
        <span>{t('assign.minutesADay')}</span>
        <InputNumber
          aria-label={t('assign.newMinutesADay')}
          min={5}
          max={120}
          value={minutes}
          onChange={(value) => setMinutes(value ?? minutes)}
        />
      </label>
      <Button htmlType="submit" type="primary">
        {t('assign.keepTheChange')}
      </Button>
      <p className="muted">{t('assign.youCanTakeDrillsOutBelow')}</p>
    </form>
  )
}
