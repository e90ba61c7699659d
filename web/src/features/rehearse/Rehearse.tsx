import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query'
import { App, Button, InputNumber, Select } from 'antd'
import { useMemo, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { ask, said } from '../../api/ask'
import { keepRehearsal, listRehearsals, previewRehearsal, type RehearsalOut, type SectionOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { usePieces, useSections } from '../../shared/hooks/part.queries'
import { day, inDays } from '../../shared/pure/time'
import { useAddress } from '../../shared/hooks/useAddress'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { Items } from './Items'
import { lastRehearsed, rememberRehearsed } from '../../shared/hooks/lastRehearsed'
import { t } from '../../words/words'
import { Say } from '../../words/Say'
import './rehearse.css'

const FEWEST = 5
const MOST = 180
const USUAL = 30

/** Tomorrow's minutes: which passages, who, what to do, how long, and why. */
export default function Rehearse() {
  const { message } = App.useApp()
  const navigate = useNavigate()
  const [address, setAddress] = useAddress()
  const pieces = usePieces()
  const sections = useSections()
  const [absent, setAbsent] = useState<string[]>([])
  const [away, setAway] = useState<string[]>([])
  const [on, setOn] = useState(inDays(1))
  const playable = useMemo(
    () =>
      (pieces.data ?? []).filter((piece) =>
        piece.parts.some((part) => !part.is_set_aside && part.section_ids.length > 0),
      ),
    [pieces.data],
  )
  const scores = playable.filter((piece) => piece.parts.length > 1)
  const known = (id: string | null) => playable.find((piece) => piece.id === id)?.id
  const pieceId = known(address.get('piece')) ?? known(lastRehearsed()) ?? (scores[0] ?? playable[0])?.id ?? ''
  const asked = Number(address.get('minutes') ?? USUAL)
  const minutes = Number.isInteger(asked) && asked >= FEWEST && asked <= MOST ? asked : USUAL
  const sectionId = address.get('section') ?? ''
  const wish = { piece_id: pieceId, minutes, section_id: sectionId || null, absent, away_next: away }
  const plan = useQuery({
    queryKey: keys.rehearsalDraft.preview(wish),
    queryFn: () => ask(previewRehearsal({ body: wish })),
    enabled: pieceId !== '',
    placeholderData: keepPreviousData,
  })
  const keep = useMutation({
    mutationFn: () => ask(keepRehearsal({ body: { ...wish, day: on } })),
    onSuccess: ({ id }) => {
      rememberRehearsed(pieceId)
      void navigate(`/rehearse/${id}`)
    },
    onError: (error) => void message.error(said(error)),
  })
  const failed = [pieces, sections].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!pieces.data || !sections.data) return <Loading what={t('rehearse.loadingTheRehearsal')} />
  if (playable.length === 0) {
    return (
      <div className="page">
        <h1>{t('rehearse.rehearse')}</h1>
        <Empty title={t('rehearse.nothingToRehearseYet')}>
          <p>{t('rehearse.bringInAScoreAndChoose')}</p>
          <Link to="/music">{t('rehearse.openMusic')}</Link>
        </Empty>
      </div>
    )
  }
  const own = new Set(playable.find((piece) => piece.id === pieceId)?.parts.flatMap((part) => part.section_ids))
  const here = sections.data.filter((section) => own.has(section.id))
  const total = plan.data?.items.reduce((sum, item) => sum + item.minutes, 0) ?? 0
  return (
    <div className="page">
      <div className="page-head">
        <div>
          <h1>{t('rehearse.rehearse')}</h1>
          <p className="lead">{t('rehearse.theMinutesGoWhereMostPlayers')}</p>
        </div>
        <span className="tool-group">
          <input
            type="date"
            aria-label={t('rehearse.dayOfTheRehearsal')}
            value={on}
            min={inDays(0)}
            onChange={(event) => setOn(event.target.value)}
          />
          <Button
            type="primary"
            size="large"
            loading={keep.isPending}
            disabled={!plan.data || plan.data.items.length === 0 || on === ''}
            onClick={() => keep.mutate()}
          >
            {t('rehearse.useThisPlan')}
          </Button>
        </span>
      </div>
      <div className="rehearse-wish">
        <Select
          aria-label={t('rehearse.piece')}
          value={pieceId}
          style={{ minWidth: 220 }}
          onChange={(piece) => setAddress({ piece, section: '' })}
          options={playable.map((piece) => ({ value: piece.id, label: piece.title }))}
        />
        <label>
          <InputNumber
            aria-label={t('rehearse.minutes')}
            min={FEWEST}
            max={MOST}
            value={minutes}
            onChange={(next) => next !== null && setAddress({ minutes: String(next) })}
          />{' '}
          {t('rehearse.minutesLower')}
        </label>
        <Select
          aria-label={t('rehearse.who')}
          value={sectionId}
          style={{ minWidth: 180 }}
          onChange={(section) => setAddress({ section })}
          options={[
            { value: '', label: t('rehearse.everybody') },
            ...here.map((section) => ({ value: section.id, label: t('rehearse.sectional', { name: section.name }) })),
          ]}
        />
        <Players label={t('rehearse.absent')} sections={here} value={absent} onChange={setAbsent} />
        <Players label={t('rehearse.leaveAfterThisLine')} sections={here} value={away} onChange={setAway} />
      </div>
      {plan.isPending && <Loading what={t('rehearse.planningTheMinutes')} />}
      {plan.isError && <Failed error={plan.error} retry={() => void plan.refetch()} />}
      {plan.data && plan.data.items.length === 0 && (
        <Empty title={t('rehearse.noPartOfThisPieceHas')}>
          <Link to="/music">{t('rehearse.chooseWhoPlaysWhat')}</Link>
        </Empty>
      )}
      {plan.data && !plan.data.is_split && plan.data.items.length > 0 && (
        <p className="caution">
          <Say it="rehearse.thisScoreIsNotSplitYet" components={[<Link to={`/pieces/${pieceId}`} />]} />
        </p>
      )}
      {plan.data && plan.data.items.length > 0 && (
        <>
          <Items items={plan.data.items} />
          <p className="muted">{t('rehearse.ofMinutes', { total, minutes })}</p>
        </>
      )}
      <Earlier />
    </div>
  )
}

interface PlayersProps {
  label: string
  sections: SectionOut[]
  value: string[]
  onChange: (ids: string[]) => void
}

function Players({ label, sections, value, onChange }: PlayersProps) {
  const options = sections.map((section) => ({
    label: section.name,
    options: section.students.map((student) => ({ value: student.id, label: student.name })),
  }))
  return (
    <Select
      mode="multiple"
      allowClear
      maxTagCount={1}
      aria-label={label}
      placeholder={label}
      style={{ minWidth: 190 }}
      value={value}
      onChange={onChange}
      options={options}
      showSearch={{ optionFilterProp: 'label' }}
    />
  )
}

function Earlier() {
  const rehearsals = useQuery({ queryKey: keys.rehearsals, queryFn: () => ask(listRehearsals()) })
  if (!rehearsals.data || rehearsals.data.length === 0) return null
  return (
    <section aria-label={t('rehearse.savedRehearsals')}>
      <h2>{t('rehearse.saved')}</h2>
      <ul className="kept-rehearsals">
        {rehearsals.data.slice(0, 8).map((one) => (
          <li key={one.id}>
            <Link to={`/rehearse/${one.id}`}>
              {day(one.day)}, {one.title}
              {one.section && `, ${one.section}`}
            </Link>{' '}
            <span className="muted">{stateOf(one)}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

function stateOf(one: RehearsalOut): string {
  if (!one.ended_at) return t('rehearse.minutesPlanned', { minutes: one.minutes })
  return one.home.length > 0
    ? t('rehearse.doneSectionsHaveWorkToTake', { count: new Set(one.home.map((line) => line.section)).size })
    : t('rehearse.done')
}
