import { Tabs } from 'antd'
import { useCallback, useEffect, useMemo, useRef, useState, type MouseEvent } from 'react'
import { useParams } from 'react-router'
import type { ChunkOut, KinOut, MapOut, PartDetail, PositionOut, SurveyOut } from '../../api/gen'
import { keys } from '../../api/keys'
import {
  useChunks,
  useEngraving,
  useKin,
  useMarks,
  usePart,
  useSections,
  useSurvey,
} from '../../shared/hooks/part.queries'
import { useKeys } from '../../shared/hooks/useKeys'
import { placeLabel } from '../../shared/pure/places'
import { MarkPanel } from '../../shared/ui/MarkPanel'
import { PartHead } from '../../shared/ui/PartHead'
import { Score } from '../../shared/ui/Score'
import { Failed, Loading } from '../../shared/ui/states'
import { Brackets } from './Brackets'
import { ChunkTags } from './ChunkTags'
import { ClaimBox } from './ClaimBox'
import { Corners } from './Corners'
import { GoalField } from './GoalField'
import { PrintPanel } from './PrintPanel'
import { chunkAt, comparePlaces, nearest, type MeasureBox } from '../../shared/pure/scoreMap'
import { useScoreBoxes } from '../../shared/hooks/useScoreBoxes'
import { KinPanel } from './KinPanel'
import { LoadStrip } from './LoadStrip'
import { MapChoice } from './MapChoice'
import { OrderPanel } from './OrderPanel'
import { Spots } from './Spots'
import { SplitTools, type By } from './SplitTools'
import { SurveyPanel } from './SurveyPanel'
import { useChunkEdits } from './useChunkEdits'
import { t } from '../../words/words'
import './splitter.css'

export default function Splitter() {
  const { partId = '' } = useParams()
  const [sectionId, setSectionId] = useState('')
  const part = usePart(partId)
  const chunks = useChunks(partId, sectionId)
  const engraving = useEngraving(partId, 'page')
  const survey = useSurvey(partId)
  const failed = [part, chunks, engraving, survey].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!part.data || !chunks.data || !survey.data || engraving.data === undefined)
    return <Loading what={t('splitter.engravingThePart')} />
  return (
    <SplitterView
      detail={part.data}
      map={chunks.data}
      svg={engraving.data}
      survey={survey.data}
      sectionId={sectionId}
      chooseSection={setSectionId}
    />
  )
}

interface Props {
  detail: PartDetail
  map: MapOut
  svg: string
  survey: SurveyOut
  sectionId: string
  chooseSection: (sectionId: string) => void
}

function SplitterView({ detail, map, svg, survey, sectionId, chooseSection }: Props) {
  const partId = detail.part.id
  const score = useRef<HTMLDivElement>(null)
  const { boxes, size } = useScoreBoxes(score, svg)
  const beats = useMemo(() => placesOf(detail), [detail])
  const [cursor, setCursor] = useState<PositionOut>({ index: 0, at: '0' })
  const [wanted, setDepth] = useState(0)
  const [link, setLink] = useState<KinOut>()
  const depth = Math.min(wanted, Math.max(map.levels.length - 1, 0))
  const level = map.levels[depth] ?? EMPTY
  const selected = chunkAt(level, cursor)
  const chunk: ChunkOut | undefined = level[selected]
  const { apply, cutDifference, giveOwn, isBusy } = useChunkEdits(partId, sectionId)
  const kin = useKin(partId)
  const marks = useMarks(partId)
  const sections = useSections()

  const step = (by: number) => {
    const ahead =
      by > 0
        ? beats.find((b) => comparePlaces(b, cursor) > 0)
        : beats.filter((b) => comparePlaces(b, cursor) < 0).at(-1)
    if (ahead) setCursor(ahead)
  }
  const toChunk = (place: number) => {
    const target = level[place]
    if (target) setCursor(target.start)
  }
  const goTo = useCallback((index: number) => setCursor({ index, at: '0' }), [])
  const actions = {
    split: () => apply({ op: 'split', at: cursor, depth }),
    merge: () => chunk && apply({ op: 'merge', place: selected, depth }),
    earlier: () => chunk && apply({ op: 'move-edge', place: selected, beats: -1, depth }),
    later: () => chunk && apply({ op: 'move-edge', place: selected, beats: 1, depth }),
    landing: () => chunk && apply({ op: 'landing', place: selected, on: !chunk.landing, depth }),
    splitInside: () => {
      if (!chunk) return
      apply({ op: 'split-inside', place: selected, depth })
      setDepth(depth + 1)
    },
    splitInsideOther: () => {
      if (!chunk) return
      apply({ op: 'split-inside-other', place: selected, depth })
      setDepth(depth + 1)
    },
    mergeInside: () => chunk && apply({ op: 'merge-inside', place: selected, depth }),
    undo: () => map.can_undo && apply({ op: 'undo' }),
    redo: () => map.can_redo && apply({ op: 'redo' }),
  }
  useKeys({
    ArrowRight: () => step(1),
    ArrowLeft: () => step(-1),
    ArrowDown: () => toChunk(selected + 1),
    ArrowUp: () => toChunk(selected - 1),
    s: actions.split,
    m: actions.merge,
    '[': actions.earlier,
    ']': actions.later,
    l: actions.landing,
    d: actions.splitInside,
    x: actions.splitInsideOther,
    j: actions.mergeInside,
    i: () => setDepth(Math.min(depth + 1, map.levels.length - 1)),
    o: () => setDepth(Math.max(depth - 1, 0)),
    z: actions.undo,
    y: actions.redo,
  })
  useScrollTo(score, boxes, cursor)

  const moveEdge = (place: number, x: number, y: number) => {
    const at = nearest(boxes, x, y)
    if (at) apply({ op: 'move-edge-to', place, at, depth })
  }

  function splitBy(by: By, measures: number) {
    setDepth(0)
    apply(by === 'every' ? { op: 'by-measures', measures } : { op: 'propose', by })
  }

  function onClick(event: MouseEvent) {
    const corner = score.current?.getBoundingClientRect()
    if (!corner) return
    const place = nearest(boxes, event.clientX - corner.left, event.clientY - corner.top)
    if (place) setCursor(place)
  }
  const edge = chunk && map.edges.find((e) => comparePlaces(e.at, chunk.start) === 0)
  const label = placeLabel(detail.measures, cursor)
  return (
    <div className="page wide">
      <PartHead detail={detail} {...(chunk && { chunkId: chunk.id })}>
        <MapChoice
          sections={sections.data ?? []}
          sectionId={sectionId}
          choose={chooseSection}
          map={map}
          giveOwn={giveOwn}
        />
        <GoalField detail={detail} />
      </PartHead>
      {detail.part.findings.length > 0 && (
        <ul className="findings">
          {detail.part.findings.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      )}
      <SplitTools
        partId={partId}
        map={map}
        depth={depth}
        setDepth={setDepth}
        chunk={chunk}
        cursorLabel={label}
        isBusy={isBusy}
        actions={actions}
        splitBy={splitBy}
        jumpTo={(index, at) => setCursor({ index, at })}
      />
      {detail.part.notes > 0 && (
        <LoadStrip survey={survey} measures={detail.measures} chunks={map.chunks} cursor={cursor.index} goTo={goTo} />
      )}
      {edge && edge.reasons.length > 0 && (
        <p className="edge-why" role="status">
          {t('splitter.startsHere', { label: chunk.label, reasons: edge.reasons.join('; ') })}
        </p>
      )}
      <div className="splitter">
        {/* Every act of the mouse here is on the keyboard too: arrows move the cursor. */}
        <div className="sheet" onClick={onClick}>
          <Score
            ref={score}
            svg={svg}
            label={t('splitter.engraved', { title: detail.title, name: detail.part.name })}
          />
          <Spots
            boxes={boxes}
            measures={detail.measures}
            survey={survey}
            kin={link}
            partId={partId}
            width={size.width}
            height={size.height}
          />
          <Brackets
            boxes={boxes}
            chunks={level}
            measures={detail.measures}
            selected={selected}
            cursor={cursor}
            width={size.width}
            height={size.height}
            moveEdge={moveEdge}
          />
        </div>
        <Tabs
          className="side"
          size="small"
          tabBarGutter={18}
          items={[
            {
              key: 'survey',
              label: t('splitter.survey'),
              children:
                detail.part.notes > 0 ? (
                  <>
                    <SurveyPanel survey={survey} measures={detail.measures} cursor={cursor} goTo={goTo} />
                    <ChunkTags partId={partId} chunk={chunk} />
                  </>
                ) : (
                  <p className="muted">{t('splitter.theNotesOfThisPartStay')}</p>
                ),
            },
            {
              key: 'kin',
              label: t('splitter.kin', { links: kin.data ? ` ${kin.data.length}` : '' }),
              children: kin.isError ? (
                <Failed error={kin.error} retry={() => void kin.refetch()} />
              ) : (
                <>
                  <ClaimBox partId={partId} />
                  <Corners partId={partId} chunk={chunk} goTo={goTo} />
                  <KinPanel
                    partId={partId}
                    kin={kin.data ?? []}
                    chunk={chunk}
                    chosen={link?.id ?? ''}
                    choose={(chosen) => {
                      setLink(chosen)
                      const end = chosen.b.part_id === partId ? chosen.b : chosen.a
                      goTo(end.first)
                    }}
                    cutDifference={cutDifference}
                  />
                </>
              ),
            },
            {
              key: 'order',
              label: t('splitter.order'),
              children: <OrderPanel map={map} apply={apply} goTo={(c) => setCursor(c.start)} />,
            },
            {
              key: 'print',
              label: t('splitter.print'),
              children: <PrintPanel partId={partId} />,
            },
            {
              key: 'marks',
              label: t('splitter.marks'),
              children: (
                <MarkPanel
                  partId={partId}
                  marks={marks.data ?? []}
                  at={cursor}
                  atLabel={label}
                  audiences={[
                    { value: '', label: t('splitter.everybodyWhoPlaysIt') },
                    ...(sections.data ?? []).map((s) => ({ value: s.id, label: t('splitter.only', { name: s.name }) })),
                  ]}
                  labelOf={(place) => placeLabel(detail.measures, place)}
                  goTo={setCursor}
                  keys={[keys.part.marks(partId), keys.part.engravings(partId)]}
                />
              ),
            },
          ]}
        />
      </div>
      <ol className="visually-hidden" aria-label={t('splitter.chunks')}>
        {level.map((c) => (
          <li key={c.id}>{c.label.replace('→', t('splitter.withLanding'))}</li>
        ))}
      </ol>
    </div>
  )
}

const EMPTY: ChunkOut[] = []

function useScrollTo(score: React.RefObject<HTMLDivElement | null>, boxes: MeasureBox[], cursor: PositionOut) {
  useEffect(() => {
    const corner = score.current?.getBoundingClientRect()
    const box = boxes.find((b) => b.index === cursor.index)
    if (!corner || !box) return
    const top = corner.top + box.top
    if (top < 190 || top > window.innerHeight - 110) {
      window.scrollBy({ top: top - window.innerHeight / 2, behavior: 'instant' })
    }
  }, [score, boxes, cursor])
}

function placesOf(detail: PartDetail): PositionOut[] {
  return detail.measures.flatMap((measure, index) => measure.beats.map((at) => ({ index, at })))
}
