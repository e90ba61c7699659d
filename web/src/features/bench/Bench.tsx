import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Segmented } from 'antd'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { ApiError, ask } from '../../api/ask'
import {
  getPassage,
  workOutDrill,
  type BenchIn,
  type ChunkOut,
  type DrillOut,
  type MapOut,
  type PartDetail,
  type SectionOut,
} from '../../api/gen'
import { keys } from '../../api/keys'
import { useChunks, useDrills, usePart, useSections } from '../../shared/hooks/part.queries'
import { climbOf, useAssignmentDraft, type DraftItem } from '../../shared/hooks/assignmentDraft'
import { useAddress } from '../../shared/hooks/useAddress'
import { useKeys } from '../../shared/hooks/useKeys'
import { PartHead } from '../../shared/ui/PartHead'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { DrillPicker } from './DrillPicker'
import { Exports } from './Exports'
import { DrillSettings, LadderFields, type LadderNumbers } from './Fields'
import { Recipes } from './Recipes'
import { Reference } from '../../shared/ui/Reference'
import { useRanking } from './useRanking'
import { WorkedView } from './WorkedView'
import { Place } from '../../shared/ui/Place'
import { inOrder, PlaceChoice } from './PlaceChoice'
import { t } from '../../words/words'
import './bench.css'

export default function Bench() {
  const { partId = '' } = useParams()
  const [address] = useAddress()
  const part = usePart(partId)
  const sections = useSections()
  const map = useChunks(partId, address.get('section') ?? '')
  const drills = useDrills()
  const failed = [part, map, drills, sections].find((query) => query.isError)
  const wanted = address.get('chunk') ?? ''
  const inMap = map.data?.levels.flat().find((one) => one.id === wanted)
  const passage = useQuery({
    queryKey: keys.part.passage(partId, wanted),
    queryFn: () => ask(getPassage({ path: { part_id: partId, chunk_id: wanted } })),
    enabled: wanted !== '' && map.data !== undefined && inMap === undefined,
    retry: false,
  })
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!part.data || !map.data || !drills.data || !sections.data) return <Loading what={t('bench.loadingTheBench')} />
  if (passage.isLoading) return <Loading what={t('bench.findingThePassage')} />
  const chunk = inMap ?? passage.data ?? inOrder(map.data)[0]
  if (!chunk) {
    return (
      <div className="page">
        <PartHead detail={part.data} />
        <Empty title={t('bench.noChunksYet')}>
          <p>{t('bench.splitThePartFirstADrill')}</p>
          <Link to={`/parts/${partId}/split`}>{t('bench.splitThePart')}</Link>
        </Empty>
      </div>
    )
  }
  return (
    <BenchView
      key={partId}
      detail={part.data}
      map={map.data}
      chunk={chunk}
      drills={drills.data}
      sections={sections.data}
    />
  )
}

interface Props {
  detail: PartDetail
  map: MapOut
  chunk: ChunkOut
  drills: DrillOut[]
  sections: SectionOut[]
}

type Player = NonNullable<BenchIn['player']>
const PLAYERS: { value: Player; label: string }[] = [
  { value: 'beginner', label: t('bench.beginner') },
  { value: 'intermediate', label: t('bench.middle') },
  { value: 'advanced', label: t('bench.advanced') },
]
const FIRST_DRAWN = 6

function readPlayer(): Player {
  return (localStorage.getItem('crumb.player') as Player | null) ?? 'intermediate'
}

function BenchView({ detail, map, chunk, drills, sections }: Props) {
  const { message } = App.useApp()
  const [address, setAddress] = useAddress()
  const [player, setPlayer] = useState<Player>(readPlayer)
  const ranking = useRanking(detail.part.id, chunk.id, player)
  const best = ranking.data?.drills.find((one) => one.refused === '')?.drill
  const drillName = address.get('drill') ?? best ?? ''
  const drill = drills.find((d) => d.name === drillName)
  const [settings, setSettings] = useState<Record<string, Record<string, number | string>>>({})
  const chosen = settings[drillName] ?? {}
  const [ladder, setLadder] = useState<LadderNumbers>({
    start: null,
    goal: detail.part.goal_bpm,
    step: null,
    minutes: 20,
    scale: 'clicks',
    way: 'ladder',
  })
  const [drawn, setDrawn] = useState(FIRST_DRAWN)
  const draft = useAssignmentDraft(detail.part.id)
  const wish = {
    chunk_id: chunk.id,
    drill: drillName,
    settings: chosen,
    ladder: {
      start_bpm: ladder.start,
      goal_bpm: ladder.goal,
      step_bpm: ladder.step,
      minutes: ladder.minutes,
      scale: ladder.scale,
      way: ladder.way,
    },
    player,
    drawn,
  }
  const worked = useQuery({
    queryKey: keys.part.bench(detail.part.id, wish),
    queryFn: () => ask(workOutDrill({ path: { part_id: detail.part.id }, body: wish })),
    placeholderData: keepPreviousData,
    enabled: drill !== undefined,
    retry: false,
  })
  function go(next: Record<string, string>) {
    setDrawn(FIRST_DRAWN)
    setAddress(next, { replace: true })
  }
  const client = useQueryClient()
  function toPlace(target: ChunkOut) {
    client.setQueryData(keys.part.passage(detail.part.id, target.id), target)
    go({ chunk: target.id })
  }
  // To the next of the same depth, in the order of learning; from a passage to the first.
  function along(by: number) {
    const depth = map.levels.findIndex((level) => level.some((one) => one.id === chunk.id))
    const row = depth > 0 ? (map.levels[depth] ?? []) : inOrder(map)
    const target = row[row.findIndex((one) => one.id === chunk.id) + by]
    if (target) toPlace(target)
  }
  const choose = (name: string) => go({ drill: name })
  function choosePlayer(next: Player) {
    localStorage.setItem('crumb.player', next)
    setPlayer(next)
  }
  const isShown = worked.data?.drill === drillName && !worked.isPlaceholderData
  const used = isShown && worked.data ? worked.data.settings : chosen
  const key = `${chunk.id} ${drillName} ${JSON.stringify(used)}`
  const isInDraft = draft.items.some((item) => item.key === key)
  function addToTray() {
    if (!worked.data || !isShown || worked.isError || !drill) return
    const item: DraftItem = {
      key,
      chunkId: chunk.id,
      chunk: chunk.label,
      drill: drillName,
      title: drill.title,
      settings: worked.data.settings,
      ...climbOf(worked.data, ladder),
      climbSeconds: worked.data.climb_seconds,
    }
    draft.add(item)
    void message.success(t('bench.onIsReadyToAssign', { title: drill.title, label: chunk.label }))
  }
  const fitting = (ranking.data?.drills ?? []).filter((one) => one.refused === '')
  useKeys({
    ArrowLeft: () => along(-1),
    ArrowRight: () => along(1),
    a: addToTray,
    ...Object.fromEntries(fitting.slice(0, 9).map((one, i) => [String(i + 1), () => choose(one.drill)])),
  })
  const refused = worked.error instanceof ApiError ? worked.error.instead : []
  return (
    <div className="page wide">
      <PartHead detail={detail} />
      <div className="bench">
        <aside className="bench-side">
          <PlaceChoice
            partId={detail.part.id}
            hasPitch={detail.part.has_pitch}
            map={map}
            chunk={chunk}
            choose={toPlace}
            sections={sections}
            sectionId={address.get('section') ?? ''}
            chooseSection={(section) => go({ section })}
          />
          <div className="field">
            <span id="player-label">{t('bench.players')}</span>
            <Segmented aria-labelledby="player-label" block options={PLAYERS} value={player} onChange={choosePlayer} />
          </div>
          <DrillPicker drills={drills} ranking={ranking} chosen={drillName} choose={choose} />
        </aside>
        <section
          className="bench-main"
          aria-label={drill ? t('bench.onOfTitleLabel', { title: drill.title, label: chunk.label }) : t('bench.drill')}
        >
          {drill && (
            <>
              <div className="bench-head">
                <div>
                  <h2>
                    {t('bench.onOfTitle', { title: drill.title })} <Place name={chunk.label} />
                  </h2>
                  <p>{drill.how}</p>
                </div>
                <Button type="primary" size="large" onClick={addToTray} disabled={worked.isError || !isShown}>
                  {isInDraft ? t('bench.readyToAssign') : t('bench.addToAssignment')} <kbd>A</kbd>
                </Button>
              </div>
              <div className="bench-fields">
                <DrillSettings
                  key={`${drillName} ${chunk.id}`}
                  drill={drill}
                  values={{ ...used, ...chosen }}
                  onChange={(next) => setSettings({ ...settings, [drillName]: { ...chosen, ...next } })}
                />
                <LadderFields
                  ladder={ladder}
                  used={isShown ? (worked.data?.ladder ?? null) : null}
                  onChange={setLadder}
                  drill={drill}
                />
              </div>
            </>
          )}
          {(worked.isPending || !drill) && <Loading what={t('bench.engravingTheDrill')} />}
          {worked.isError ? (
            <div className="refusal" role="alert">
              <p>{worked.error.message}</p>
              {refused.map((name) => (
                <Button key={name} onClick={() => choose(name)}>
                  {drills.find((d) => d.name === name)?.title ?? name}
                </Button>
              ))}
            </div>
          ) : (
            worked.data &&
            drill && (
              <WorkedView
                worked={worked.data}
                drill={drill}
                isStale={worked.isPlaceholderData}
                goal={ladder.goal}
                setStep={(step) => setLadder({ ...ladder, step })}
                drawMore={() => setDrawn(200)}
              />
            )
          )}
          {isShown && !worked.isError && (
            <Exports partId={detail.part.id} chunkId={chunk.id} drill={drillName} settings={used} />
          )}
          <Reference partId={detail.part.id} goal={detail.part.goal_bpm} />
          <Recipes detail={detail} chunk={chunk} drills={drills} ladder={ladder} player={player} />
        </section>
      </div>
    </div>
  )
}
