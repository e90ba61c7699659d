import { Alert, Button, Input, InputNumber, Progress, Select } from 'antd'
import { useState, type DragEvent } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { said } from '../../api/ask'
import type { BeginsOut, PageOut, PageSetOut, SectionOut } from '../../api/gen'
import { useInstruments, useSections } from '../../shared/hooks/part.queries'
import { Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'
import { isBeingRead } from '../../shared/hooks/pageSets'
import { pictureOf, usePageSet, useSetActs } from './pages.queries'
import { changed, moveBeginning, movePage, partsOf, type PartOfPages } from './parts'
import './pages.css'

/** Pages that were brought in: taken apart into parts, each with its name and who plays it. */
export default function Pages() {
  const { setId = '' } = useParams()
  const set = usePageSet(setId)
  if (set.isError) return <Failed error={set.error} retry={() => void set.refetch()} />
  if (!set.data) return <Loading what={t('pages.loading')} />
  return <Arranging set={set.data} />
}

function Arranging({ set }: { set: PageSetOut }) {
  const acts = useSetActs(set.id)
  const navigate = useNavigate()
  const isReading = isBeingRead(set.state)
  const failed = acts.arrange.error ?? acts.turn.error ?? acts.remove.error
  return (
    <div className="page wide">
      <div className="page-head">
        <div>
          <h1>{set.title || t('pages.pages')}</h1>
          <p className="lead">{t('pages.lead')}</p>
        </div>
        {!set.piece_id && !isReading && (
          <Button
            danger
            loading={acts.remove.isPending}
            onClick={() => acts.remove.mutate(undefined, { onSuccess: () => void navigate('/music') })}
          >
            {t('pages.deletePages')}
          </Button>
        )}
      </div>
      {isReading && <Reading set={set} stop={() => acts.stop.mutate()} />}
      {(set.state === 'failed' || set.state === 'cancelled') && (
        <Alert type="error" showIcon title={set.message || t('pages.stopped')} role="alert" />
      )}
      {failed && <Alert type="error" showIcon title={said(failed)} role="alert" />}
      {!set.reads_text && <Alert type="info" showIcon title={t('pages.noText')} />}
      {set.pages.length > 0 && (
        <>
          {partsOf(set.pages).map((part) => (
            <PartOfSet key={set.pages[part.places[0] ?? 0]?.id} set={set} part={part} acts={acts} />
          ))}
          {!isReading && <Making set={set} make={acts.make} />}
          <p className="muted">{t('pages.rights')}</p>
        </>
      )}
    </div>
  )
}

function Reading({ set, stop }: { set: PageSetOut; stop: () => void }) {
  const percent = set.total > 0 ? Math.round((100 * set.done) / set.total) : 0
  return (
    <div className="importing" role="status">
      <span>
        {set.total > 0 ? t('pages.readingPage', { page: set.done + 1, of: set.total }) : t('pages.waiting')}{' '}
        <small className="muted">{t('pages.leave')}</small>
      </span>
      <Button size="small" onClick={stop}>
        {t('pages.stop')}
      </Button>
      <Progress percent={percent} aria-label={t('pages.progress')} />
    </div>
  )
}

type Acts = ReturnType<typeof useSetActs>

function PartOfSet({ set, part, acts }: { set: PageSetOut; part: PartOfPages; acts: Acts }) {
  const instruments = useInstruments()
  const sections = useSections()
  const first = part.places.find((place) => set.pages[place]?.begins) ?? part.places[0] ?? 0
  const say = (change: Partial<BeginsOut>) =>
    acts.arrange.mutate(changed(set.pages, first, { begins: { ...part.begins, ...change } }))
  return (
    <section className="pages-part" aria-label={part.begins.name}>
      <div className="pages-part-head">
        <Input
          key={part.begins.name}
          aria-label={t('pages.partName')}
          defaultValue={part.begins.name}
          maxLength={120}
          onBlur={(event) => {
            const name = event.target.value.trim()
            if (name && name !== part.begins.name) say({ name })
          }}
          onPressEnter={(event) => event.currentTarget.blur()}
        />
        <Select
          aria-label={t('pages.playedOn', { name: part.begins.name })}
          showSearch
          value={part.begins.played_on}
          options={(instruments.data ?? []).map((name) => ({ value: name, label: name }))}
          onChange={(played_on: string) => say({ played_on })}
        />
        <Select
          aria-label={t('pages.section', { name: part.begins.name })}
          allowClear
          placeholder={t('pages.noSection')}
          value={part.begins.section_id ?? undefined}
          options={(sections.data ?? []).map((one: SectionOut) => ({ value: one.id, label: one.name }))}
          onChange={(section_id?: string) => say({ section_id: section_id ?? null })}
        />
      </div>
      <ol className="thumbs">
        {part.places.map((place) => (
          <Thumb key={set.pages[place]?.id} set={set} place={place} acts={acts} />
        ))}
      </ol>
    </section>
  )
}

function Thumb({ set, place, acts }: { set: PageSetOut; place: number; acts: Acts }) {
  const page = set.pages[place] as PageOut
  const number = place + 1
  const isBusy = acts.arrange.isPending || isBeingRead(set.state)
  function drop(event: DragEvent) {
    event.preventDefault()
    const from = Number(event.dataTransfer.getData('text/plain'))
    if (Number.isInteger(from) && set.pages[from]) acts.arrange.mutate(moveBeginning(set.pages, from, place))
  }
  return (
    <li
      className={page.is_left_out ? 'thumb left-out' : 'thumb'}
      onDragOver={(event) => event.preventDefault()}
      onDrop={drop}
    >
      {page.begins && place > 0 && (
        <span
          className="boundary"
          draggable
          title={t('pages.dragHint')}
          onDragStart={(event) => event.dataTransfer.setData('text/plain', String(place))}
        >
          {t('pages.begins')}
        </span>
      )}
      <Link to={`/pages/${set.id}/${page.id}`} aria-label={t('pages.openPage', { number })}>
        {page.measures === null || !page.width ? (
          <span className="thumb-blank">{number}</span>
        ) : (
          <img src={pictureOf(page.id, page.turn, 300)} alt={t('pages.pageNumber', { number })} loading="lazy" />
        )}
      </Link>
      <p>
        {page.message && page.measures === 0
          ? page.message
          : page.first_number !== null
            ? t('pages.measuresFromTo', { first: page.first_number, last: page.last_number })
            : page.is_left_out
              ? t('pages.isLeftOut')
              : ''}
        {page.conflicts > 0 && (
          <Link className="conflict" to={`/pages/${set.id}/${page.id}`}>
            {t('pages.conflicts', { count: page.conflicts })}
          </Link>
        )}
      </p>
      <span className="tool-group">
        {place > 0 && !page.is_left_out && (
          <Button
            size="small"
            disabled={isBusy}
            onClick={() =>
              acts.arrange.mutate(
                changed(set.pages, place, {
                  begins: page.begins
                    ? null
                    : { name: t('pages.newPart', { number }), played_on: 'Instrument', section_id: null },
                }),
              )
            }
          >
            {page.begins ? t('pages.goesOn') : t('pages.beginHere')}
          </Button>
        )}
        <Button
          size="small"
          disabled={isBusy}
          onClick={() => acts.arrange.mutate(changed(set.pages, place, { is_left_out: !page.is_left_out }))}
        >
          {page.is_left_out ? t('pages.takeIn') : t('pages.leaveOut')}
        </Button>
        <Button
          size="small"
          disabled={isBusy}
          aria-label={t('pages.turnPage', { number })}
          onClick={() => acts.turn.mutate(page.id)}
        >
          ↻
        </Button>
        <Button
          size="small"
          disabled={isBusy || place === 0}
          aria-label={t('pages.moveLeft', { number })}
          onClick={() => acts.arrange.mutate(movePage(set.pages, place, -1))}
        >
          ←
        </Button>
        <Button
          size="small"
          disabled={isBusy || place + 1 === set.pages.length}
          aria-label={t('pages.moveRight', { number })}
          onClick={() => acts.arrange.mutate(movePage(set.pages, place, 1))}
        >
          →
        </Button>
      </span>
    </li>
  )
}

function Making({ set, make }: { set: PageSetOut; make: Acts['make'] }) {
  const [title, setTitle] = useState(set.title)
  const [composer, setComposer] = useState(set.composer)
  const [goal, setGoal] = useState(100)
  const piece = make.data
  const parts = piece?.parts ?? []
  return (
    <form
      className="making"
      onSubmit={(event) => {
        event.preventDefault()
        make.mutate({ title: title.trim(), composer, goal_bpm: goal, marks: set.pages })
      }}
    >
      <label>
        {t('pages.title')}
        <Input value={title} maxLength={200} required onChange={(event) => setTitle(event.target.value)} />
      </label>
      <label>
        {t('pages.composer')}
        <Input value={composer} maxLength={200} onChange={(event) => setComposer(event.target.value)} />
      </label>
      <label>
        {t('pages.goal')}
        <InputNumber value={goal} min={20} max={300} precision={0} onChange={(value) => setGoal(value ?? 100)} />
      </label>
      <Button type="primary" size="large" htmlType="submit" loading={make.isPending} disabled={!title.trim()}>
        {set.piece_id ? t('pages.makeVersion') : t('pages.makePiece')}
      </Button>
      {set.piece_id && !piece && <p className="muted">{t('pages.versionMeans')}</p>}
      {make.isError && <Alert type="error" showIcon title={said(make.error)} role="alert" />}
      {piece && (
        <Alert
          type="success"
          showIcon
          role="status"
          title={t('pages.isThere', { title: piece.title })}
          description={
            <ul className="plain-list">
              {parts.map((part) => (
                <li key={part.id}>
                  <Link to={`/parts/${part.id}/split`}>{part.name}</Link>
                </li>
              ))}
            </ul>
          }
        />
      )}
    </form>
  )
}
