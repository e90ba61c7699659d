import { Alert, Button, Input, InputNumber } from 'antd'
import { useRef, useState, type PointerEvent } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { said } from '../../api/ask'
import type { AreaIn, PageActIn, PageDetail, PageMeasureOut, PageSetOut } from '../../api/gen'
import { useKeys } from '../../shared/hooks/useKeys'
import { Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'
import { pictureOf, useMend, usePage, usePageSet } from './pages.queries'
import './pages.css'

/** One page with its measures on it, to be mended: barlines, numbers, letters, meters, rests. */
export default function PageEditor() {
  const { setId = '', pageId = '' } = useParams()
  const set = usePageSet(setId)
  const page = usePage(pageId)
  const failed = [set, page].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!set.data || !page.data) return <Loading what={t('pages.loading')} />
  return <Editor key={pageId} set={set.data} page={page.data} />
}

type Tool = 'choose' | 'split' | 'draw'

function Editor({ set, page }: { set: PageSetOut; page: PageDetail }) {
  const navigate = useNavigate()
  const mend = useMend(page.id, set.id)
  const [chosen, setChosen] = useState(0)
  const [tool, setTool] = useState<Tool>('choose')
  const place = set.pages.findIndex((one) => one.id === page.id)
  const measure = page.measures[chosen]
  const act = (body: PageActIn) => mend.mutate(body)
  const go = (by: number) => {
    const other = set.pages[place + by]
    if (other) void navigate(`/pages/${set.id}/${other.id}`)
  }
  const step = (by: number) => setChosen(Math.min(Math.max(chosen + by, 0), Math.max(page.measures.length - 1, 0)))
  const nudge = (by: number) => measure && act({ op: 'move', place: chosen, x: measure.area.right + by })
  useKeys({
    ArrowRight: () => step(1),
    ArrowLeft: () => step(-1),
    s: () => measure && act({ op: 'split', place: chosen, x: middleOf(measure) }),
    j: () => act({ op: 'join', place: chosen }),
    x: () => act({ op: 'delete', place: chosen }),
    '[': () => nudge(-12),
    ']': () => nudge(12),
    z: () => page.can_undo && act({ op: 'undo' }),
    y: () => page.can_redo && act({ op: 'redo' }),
  })
  const turn = set.pages[place]?.turn ?? 0
  return (
    <div className="page wide">
      <div className="page-head">
        <div>
          <h1>{t('pages.pageOf', { number: place + 1, title: set.title })}</h1>
          <p className="lead">{page.part_name}</p>
        </div>
        <span className="tool-group">
          <Button disabled={place <= 0} onClick={() => go(-1)}>
            {t('pages.pageBefore')}
          </Button>
          <Button disabled={place + 1 >= set.pages.length} onClick={() => go(1)}>
            {t('pages.pageAfter')}
          </Button>
          <Link to={`/pages/${set.id}`}>{t('pages.allPages')}</Link>
        </span>
      </div>
      <div className="page-editor">
        <Sheet page={page} turn={turn} chosen={chosen} choose={setChosen} tool={tool} act={act} />
        <aside>
          <span className="tool-group">
            <Button disabled={!page.can_undo} onClick={() => act({ op: 'undo' })}>
              {t('pages.undo')}
            </Button>
            <Button disabled={!page.can_redo} onClick={() => act({ op: 'redo' })}>
              {t('pages.redo')}
            </Button>
          </span>
          <span className="tool-group" role="group" aria-label={t('pages.tools')}>
            {(['choose', 'split', 'draw'] as const).map((one) => (
              <Button
                key={one}
                aria-pressed={tool === one}
                type={tool === one ? 'primary' : 'default'}
                onClick={() => setTool(one)}
              >
                {TOOLS[one]}
              </Button>
            ))}
          </span>
          <p className="muted">{HINTS[tool]}</p>
          {mend.isError && <Alert type="error" showIcon title={said(mend.error)} role="alert" />}
          {measure ? (
            <Measure key={`${chosen}-${JSON.stringify(measure)}`} measure={measure} place={chosen} act={act} />
          ) : (
            <p>{page.message || t('pages.noMeasure')}</p>
          )}
          {set.piece_id && <p className="muted">{t('pages.versionMeans')}</p>}
        </aside>
      </div>
    </div>
  )
}

const TOOLS: Record<Tool, string> = {
  choose: t('pages.choose'),
  split: t('pages.addBarline'),
  draw: t('pages.drawMeasure'),
}
const HINTS: Record<Tool, string> = {
  choose: t('pages.chooseHint'),
  split: t('pages.splitHint'),
  draw: t('pages.drawHint'),
}

const middleOf = (one: PageMeasureOut) => Math.round((one.area.left + one.area.right) / 2)

interface SheetProps {
  page: PageDetail
  turn: number
  chosen: number
  choose: (place: number) => void
  tool: Tool
  act: (body: PageActIn) => void
}

function Sheet({ page, turn, chosen, choose, tool, act }: SheetProps) {
  const box = useRef<SVGSVGElement>(null)
  const [drag, setDrag] = useState<{ place: number; x: number } | null>(null)
  const [drawn, setDrawn] = useState<AreaIn | null>(null)
  function at(event: PointerEvent) {
    const corner = box.current?.getBoundingClientRect()
    if (!corner || !corner.width) return { x: 0, y: 0 }
    const scale = page.width / corner.width
    return {
      x: Math.max(0, Math.round((event.clientX - corner.left) * scale)),
      y: Math.max(0, Math.round((event.clientY - corner.top) * scale)),
    }
  }
  function down(event: PointerEvent<SVGSVGElement>) {
    if (tool !== 'draw') return
    const { x, y } = at(event)
    event.currentTarget.setPointerCapture(event.pointerId)
    setDrawn({ left: x, top: y, right: x, bottom: y })
  }
  function move(event: PointerEvent<SVGSVGElement>) {
    const { x, y } = at(event)
    if (drawn) setDrawn({ ...drawn, right: x, bottom: y })
    if (drag) setDrag({ ...drag, x })
  }
  function up() {
    if (drawn) {
      const area = {
        left: Math.min(drawn.left, drawn.right),
        right: Math.max(drawn.left, drawn.right),
        top: Math.min(drawn.top, drawn.bottom),
        bottom: Math.max(drawn.top, drawn.bottom),
      }
      if (area.right - area.left > 8 && area.bottom - area.top > 8) act({ op: 'add', area })
      setDrawn(null)
    }
    if (drag) {
      act({ op: 'move', place: drag.place, x: drag.x })
      setDrag(null)
    }
  }
  return (
    <div className="page-sheet">
      <img src={pictureOf(page.id, turn, 1400)} alt={t('pages.pagePicture')} draggable={false} />
      <svg
        ref={box}
        viewBox={`0 0 ${page.width} ${page.height}`}
        preserveAspectRatio="none"
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        role="group"
        aria-label={t('pages.measuresOnPage')}
      >
        {page.measures.map((one, place) => (
          <g key={`${one.area.left}-${one.area.top}`}>
            <rect
              className={`measure${place === chosen ? ' chosen' : ''}${one.counted === null ? '' : ' conflict'}`}
              role="button"
              aria-label={t('pages.measureNumber', { number: one.number })}
              aria-pressed={place === chosen}
              x={one.area.left}
              y={one.first_line - 20}
              width={one.area.right - one.area.left}
              height={one.last_line - one.first_line + 40}
              onPointerDown={(event) => {
                if (tool === 'draw') return
                choose(place)
                if (tool === 'split') act({ op: 'split', place, x: at(event).x })
              }}
            />
            <text x={one.area.left + 6} y={one.first_line - 28} className={one.counted === null ? '' : 'conflict'}>
              {one.number}
              {one.letter && ` ${one.letter}`}
            </text>
            {tool === 'choose' && (
              <rect
                className="edge"
                x={one.area.right - 12}
                y={one.first_line - 20}
                width={24}
                height={one.last_line - one.first_line + 40}
                onPointerDown={(event) => {
                  event.stopPropagation()
                  box.current?.setPointerCapture(event.pointerId)
                  setDrag({ place, x: at(event).x })
                }}
              />
            )}
          </g>
        ))}
        {drag && (
          <path
            className="ghost"
            d={`M${drag.x} ${(page.measures[drag.place]?.first_line ?? 0) - 30}V${(page.measures[drag.place]?.last_line ?? 0) + 30}`}
          />
        )}
        {drawn && (
          <rect
            className="measure chosen"
            x={Math.min(drawn.left, drawn.right)}
            y={Math.min(drawn.top, drawn.bottom)}
            width={Math.abs(drawn.right - drawn.left)}
            height={Math.abs(drawn.bottom - drawn.top)}
          />
        )}
      </svg>
    </div>
  )
}

interface MeasureProps {
  measure: PageMeasureOut
  place: number
  act: (body: PageActIn) => void
}

function Measure({ measure, place, act }: MeasureProps) {
  const [number, setNumber] = useState<number | null>(measure.number)
  const [rests, setRests] = useState<number | null>(measure.stands_for)
  return (
    <>
      <h2>{t('pages.measureNumber', { number: measure.number })}</h2>
      {measure.counted !== null && (
        <p role="status">{t('pages.conflict', { printed: measure.number, counted: measure.counted })}</p>
      )}
      <span className="tool-group">
        <Button onClick={() => act({ op: 'split', place, x: middleOf(measure) })}>{t('pages.split')}</Button>
        <Button onClick={() => act({ op: 'join', place })}>{t('pages.join')}</Button>
        <Button danger onClick={() => act({ op: 'delete', place })}>
          {t('pages.notMusic')}
        </Button>
      </span>
      <label>
        {t('pages.number')}
        <InputNumber
          value={number}
          min={0}
          max={9999}
          precision={0}
          onChange={setNumber}
          onPressEnter={() => act({ op: 'number', place, number })}
        />
      </label>
      <span className="tool-group">
        <Button onClick={() => act({ op: 'number', place, number })}>{t('pages.renumber')}</Button>
        {measure.said_number !== null && (
          <Button onClick={() => act({ op: 'number', place, number: null })}>{t('pages.asCounted')}</Button>
        )}
      </span>
      <Said
        label={t('pages.letter')}
        value={measure.letter}
        most={8}
        say={(text) => act({ op: 'letter', place, text })}
      />
      <Said
        label={t('pages.meterHere', { time: measure.time })}
        value={measure.new_time}
        most={12}
        say={(text) => act({ op: 'time', place, text })}
      />
      <Said
        label={t('pages.quarters')}
        value={measure.quarters}
        most={9}
        say={(text) => act({ op: 'length', place, quarters: text || null })}
      />
      <Said
        label={t('pages.ending')}
        value={measure.ending}
        most={12}
        say={(text) => act({ op: 'ending', place, text })}
      />
      <label>
        {t('pages.restsFor')}
        <InputNumber
          value={rests}
          min={1}
          max={400}
          precision={0}
          onChange={setRests}
          onPressEnter={() => act({ op: 'rests', place, number: rests ?? 1 })}
          onBlur={() => rests && rests !== measure.stands_for && act({ op: 'rests', place, number: rests })}
        />
      </label>
      <span className="tool-group">
        <Button
          aria-pressed={measure.opens_repeat}
          onClick={() => act({ op: 'repeat', place, opens: !measure.opens_repeat, closes: measure.closes_repeat })}
        >
          {measure.opens_repeat ? t('pages.noRepeatBegins') : t('pages.repeatBegins')}
        </Button>
        <Button
          aria-pressed={measure.closes_repeat}
          onClick={() => act({ op: 'repeat', place, opens: measure.opens_repeat, closes: !measure.closes_repeat })}
        >
          {measure.closes_repeat ? t('pages.noRepeatEnds') : t('pages.repeatEnds')}
        </Button>
      </span>
    </>
  )
}

interface SaidProps {
  label: string
  value: string
  most: number
  say: (text: string) => void
}

/** A field that is said when it is left, or with Enter. */
function Said({ label, value, most, say }: SaidProps) {
  const [text, setText] = useState(value)
  const done = () => {
    if (text.trim() !== value) say(text.trim())
  }
  return (
    <label>
      {label}
      <Input
        value={text}
        maxLength={most}
        onChange={(event) => setText(event.target.value)}
        onBlur={done}
        onPressEnter={(event) => event.currentTarget.blur()}
      />
    </label>
  )
}
