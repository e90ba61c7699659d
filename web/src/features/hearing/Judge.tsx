import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, Select } from 'antd'
import { useEffect, useRef, useState } from 'react'
import { ask, said } from '../../api/ask'
import {
  judge,
  listCures,
  takeHearingBack,
  type JudgedIn,
  type MeasureOut,
  type PositionOut,
  type JudgesSheetOut,
  type SlipHeardIn,
  type WaitingOut,
} from '../../api/gen'
import { keys } from '../../api/keys'
import { isSame, markNotes, noteNear } from '../../shared/pure/noteTap'
import { moment } from '../../shared/pure/time'
import { useKeys } from '../../shared/hooks/useKeys'
import { LEVEL_NAMES, LevelMark } from '../../shared/ui/LevelMark'
import { Score } from '../../shared/ui/Score'
import { Style } from './Style'
import { Taken } from './Taken'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

const LEVELS = [0, 1, 2, 3, 4, 5, 6]
const WENT_WELL = [
  t('hearing.steadyPulse'),
  t('hearing.clearNotes'),
  t('hearing.goodSound'),
  t('hearing.landsWell'),
  t('hearing.dynamicsHeard'),
  t('hearing.muchBetterThanLastTime'),
]
/** One key for each kind of slip, in the order they are shown. */
const CHANGED_BY_A_HEARING = [
  keys.hearing.all,
  keys.desk,
  keys.wall.all,
  keys.evidence.all,
  keys.score.all,
  keys.faults.all,
]
const KIND_KEYS = ['q', 'w', 'e', 'r', 't', 'a', 's', 'd', 'f', 'g']

interface Props {
  partId: string
  sheet: JudgesSheetOut
  student: WaitingOut
  svg: string | null
  measures: MeasureOut[]
  secondsPerQuarter: number
  choose: (studentId: string) => void
  onKept: () => void
  whatNext: string
}

/** One student on one chunk: what was heard, and what follows from it. */
export function Judge({ partId, sheet, student, svg, measures, secondsPerQuarter, choose, onKept, whatNext }: Props) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const cures = useQuery({ queryKey: keys.cures, queryFn: () => ask(listCures()), staleTime: Infinity })
  const [level, setLevel] = useState<number | null>(null)
  const [slips, setSlips] = useState<SlipHeardIn[]>([])
  const [well, setWell] = useState('')
  const [thing, setThing] = useState('')
  const [cure, setCure] = useState('')
  const [reason, setReason] = useState('')
  const [missing, setMissing] = useState<string[]>([])
  const [id, setId] = useState(() => crypto.randomUUID())
  const [takeId, setTakeId] = useState('')
  const take =
    student.takes.find((one) => one.id === takeId) ?? student.takes.find((one) => !one.is_heard) ?? student.takes[0]
  const isDown = level !== null && level < student.level
  const renew = () => {
    for (const queryKey of CHANGED_BY_A_HEARING) void client.invalidateQueries({ queryKey })
  }
  const back = useMutation({
    mutationFn: (hearingId: string) => ask(takeHearingBack({ path: { hearing_id: hearingId } })),
    onSuccess: () => {
      renew()
      void message.success(t('hearing.takenBack'))
    },
    onError: (error) => void message.error(said(error)),
  })
  const keep = useMutation({
    mutationFn: () => {
      const body: JudgedIn = {
        id,
        student_id: student.student_id,
        chunk_id: sheet.chunk.id,
        level: level ?? 0,
        reason,
        went_well: well,
        one_thing: thing,
        missing: lacks,
        slips,
        cure,
        take_id: take?.id ?? null,
      }
      return ask(judge({ path: { part_id: partId }, body }))
    },
    onSuccess: (kept) => {
      renew()
      setId(crypto.randomUUID())
      void message.success(
        <>
          {student.name}:{' '}
          {kept.before === kept.level
            ? t('hearing.staysAt', { level: kept.level })
            : t('hearing.to', { before: kept.before, level: kept.level })}
          . {kept.why}{' '}
          <Button size="small" type="link" onClick={() => back.mutate(kept.id)}>
            {t('hearing.undo')}
          </Button>
        </>,
        6,
      )
      onKept()
    },
  })
  const checklist = sheet.checklist
    .filter((one) => one.judged_at === null || one.judged_at === level)
    .map((one) => one.line)
  const lacks = missing.filter((line) => checklist.includes(line))
  const canKeep = level !== null && (!isDown || reason.trim() !== '')
  const tapped = (at: PositionOut) =>
    setSlips(
      slips.some((one) => isSame(one.at, at))
        ? slips.filter((one) => !isSame(one.at, at))
        : [...slips, { at, what: null }],
    )
  const tellKind = (what: SlipHeardIn['what']) =>
    setSlips(slips.map((one, i) => (i === slips.length - 1 ? { ...one, what: one.what === what ? null : what } : one)))
  useKeys({
    ...Object.fromEntries(LEVELS.map((one) => [String(one), () => setLevel(one)])),
    ...Object.fromEntries(sheet.kinds.map((kind, i) => [KIND_KEYS[i] ?? '', () => tellKind(kind.key)])),
    Enter: () => canKeep && !keep.isPending && keep.mutate(),
    Backspace: () => setSlips(slips.slice(0, -1)),
  })
  const lastSlip = slips.at(-1)
  return (
    <div className="hearing">
      <ol className="queue" aria-label={t('hearing.studentsWaiting')}>
        {sheet.waiting.map((one) => (
          <li key={one.student_id}>
            <button
              type="button"
              aria-pressed={one.student_id === student.student_id}
              onClick={() => choose(one.student_id)}
            >
              <LevelMark level={one.level} size={18} /> {one.name}
              {one.takes.some((each) => !each.is_heard) && (
                <small className="has-take">{t('hearing.takeToHear')}</small>
              )}
              {one.last && (
                <small className="muted">{t('hearing.heardOfHeardAt', { heardAt: moment(one.last.heard_at) })}</small>
              )}
            </button>
          </li>
        ))}
      </ol>
      <section aria-label={t('hearing.hearingOfName', { name: student.name })}>
        <h2>
          {student.name} <small>{sheet.chunk.label.replace('→', '')}</small>
        </h2>
        <p className="muted">
          {t('hearing.now', { level: student.level, levelNames: LEVEL_NAMES[student.level], why: student.why })}
          {student.last &&
            t('hearing.heardThis', {
              by: student.last.by,
              judgement:
                [
                  student.last.went_well,
                  student.last.one_thing && t('hearing.then', { oneThing: student.last.one_thing }),
                  student.last.missing.length > 0 &&
                    t('hearing.missing', { missing: student.last.missing.join(', ').toLowerCase() }),
                ]
                  .filter(Boolean)
                  .join('; ') || t('hearing.levelOfLevel', { level: student.last.level }),
            })}
        </p>
        {sheet.watch.length > 0 && <p className="watch">{t('hearing.watch', { watch: sheet.watch.join(' · ') })}</p>}
        <Style partId={partId} chunk={sheet.chunk} style={sheet.style} />
        {take && (
          <Taken
            takes={student.takes}
            chosen={take}
            choose={setTakeId}
            chunk={sheet.chunk}
            measures={measures}
            secondsPerQuarter={secondsPerQuarter}
            pointed={slips.at(-1)?.at ?? null}
          />
        )}
        <Sheet
          svg={svg}
          slips={slips}
          label={t('hearing.engravedTapEachNoteThatSlips', { label: sheet.chunk.label.replace('→', '') })}
          onNote={tapped}
        />
        <div className="chips" role="group" aria-label={t('hearing.whatWentWrong')}>
          {sheet.kinds.map((kind, i) => (
            <button
              key={kind.key}
              type="button"
              disabled={!lastSlip}
              aria-pressed={lastSlip?.what === kind.key}
              onClick={() => tellKind(kind.key)}
            >
              {kind.label} <kbd>{KIND_KEYS[i]?.toUpperCase()}</kbd>
            </button>
          ))}
        </div>
        <p className="muted" role="status">
          {slips.length === 0
            ? t('hearing.tapEachNoteThatSlipsThen')
            : t('hearing.slipsMarked', { count: slips.length })}
        </p>
      </section>
      <form
        className="judgement"
        aria-label={t('hearing.yourJudgement')}
        onSubmit={(event) => {
          event.preventDefault()
          if (canKeep) keep.mutate()
        }}
      >
        <fieldset>
          <legend>{t('hearing.level')}</legend>
          <div className="levels">
            {LEVELS.map((one) => (
              <button
                key={one}
                type="button"
                aria-pressed={level === one}
                title={LEVEL_NAMES[one]}
                aria-label={t('hearing.levelOfOneLevelNames', { one, levelNames: LEVEL_NAMES[one] })}
                onClick={() => setLevel(one)}
              >
                <LevelMark level={one} size={22} />
              </button>
            ))}
          </div>
          {level !== null && <p className="muted">{LEVEL_NAMES[level]}</p>}
        </fieldset>
        {isDown && (
          <label>
            {t('hearing.whyTheLevelGoesDown')}
            <Input value={reason} maxLength={400} onChange={(event) => setReason(event.target.value)} />
          </label>
        )}
        <label>
          {t('hearing.firstWhatWentWell')}
          <Input value={well} maxLength={200} list="went-well" onChange={(event) => setWell(event.target.value)} />
          <datalist id="went-well">
            {WENT_WELL.map((one) => (
              <option key={one} value={one} />
            ))}
          </datalist>
        </label>
        <label>
          {t('hearing.thenOneThingToChange')}
          <Input value={thing} maxLength={200} onChange={(event) => setThing(event.target.value)} />
        </label>
        <Select
          aria-label={t('hearing.whatToMend')}
          allowClear
          placeholder={t('hearing.whatToMendIfAnything')}
          value={cure || null}
          showSearch={{ optionFilterProp: 'label' }}
          onChange={(key: string | null) => setCure(key ?? '')}
          options={(cures.data ?? []).map((one) => ({ value: one.key, label: one.heard }))}
        />
        {cure && (
          <p className="muted">
            {t('hearing.nextOfDrills', { drills: cures.data?.find((one) => one.key === cure)?.drills.join(', ') })}
          </p>
        )}
        <details>
          <summary>
            {lacks.length === 0
              ? t('hearing.checklistAllThere')
              : t('hearing.checklistMissing', { lacks: lacks.join(', ') })}
          </summary>
          {checklist.map((line) => (
            <label key={line} className="check">
              <input
                type="checkbox"
                checked={!lacks.includes(line)}
                onChange={(event) =>
                  setMissing(event.target.checked ? missing.filter((one) => one !== line) : [...missing, line])
                }
              />{' '}
              {line}
            </label>
          ))}
        </details>
        <Button type="primary" size="large" htmlType="submit" disabled={!canKeep} loading={keep.isPending}>
          <Say it="hearing.keepWithKey" components={[<kbd />]} />
        </Button>
        <small className="muted">{t('hearing.nextOfWhatNext', { whatNext })}</small>
        {keep.isError && <p role="alert">{said(keep.error)}</p>}
      </form>
    </div>
  )
}

interface SheetProps {
  svg: string | null
  slips: SlipHeardIn[]
  label: string
  onNote: (at: PositionOut) => void
}

function Sheet({ svg, slips, label, onNote }: SheetProps) {
  const sheet = useRef<HTMLDivElement>(null)
  useEffect(
    () =>
      sheet.current
        ? markNotes(
            sheet.current,
            slips.map((one) => one.at),
            'slipped',
          )
        : undefined,
    [slips, svg],
  )
  if (svg === null) return <p className="muted">{t('hearing.thisPartStaysOnPaperSo')}</p>
  return (
    <div
      className="judged"
      tabIndex={0}
      role="group"
      aria-label={t('hearing.music')}
      onClick={(event) => {
        const at = sheet.current && noteNear(sheet.current, event.clientX, event.clientY)
        if (at) onNote(at)
      }}
    >
      <Score ref={sheet} svg={svg} label={label} />
    </div>
  )
}
