import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { App, Button, Select } from 'antd'
import { useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { ask } from '../../api/ask'
import { workOutDrill, type ChunkOut, type DrillOut, type PartDetail } from '../../api/gen'
import { partKeys, useChunks, useDrills, usePart } from '../../shared/lib/part.queries'
import { useTray, type TrayItem } from '../../shared/lib/tray'
import { useKeys } from '../../shared/lib/useKeys'
import { PartHead } from '../../shared/ui/PartHead'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import { DrillSettings, LadderFields, type LadderNumbers } from './Fields'
import { WorkedView } from './WorkedView'

export default function Bench() {
  const { partId = '' } = useParams()
  const part = usePart(partId)
  const chunks = useChunks(partId)
  const drills = useDrills()
  const failed = [part, chunks, drills].find((query) => query.isError)
  if (failed) return <Failed error={failed.error} retry={() => void failed.refetch()} />
  if (!part.data || !chunks.data || !drills.data) return <Loading what="Setting up the bench" />
  if (chunks.data.chunks.length === 0) {
    return (
      <div className="page">
        <PartHead detail={part.data} />
        <Empty title="Nothing to drill yet">
          <p>A drill works on a chunk: split the part first.</p>
          <Link to={`/parts/${partId}/split`}>Split the part</Link>
        </Empty>
      </div>
    )
  }
  return <BenchView key={partId} detail={part.data} chunks={chunks.data.chunks} drills={drills.data} />
}

interface Props {
  detail: PartDetail
  chunks: ChunkOut[]
  drills: DrillOut[]
}

function BenchView({ detail, chunks, drills }: Props) {
  const { message } = App.useApp()
  const [address, setAddress] = useSearchParams()
  const place = Math.max(0, chunks.findIndex((c) => c.id === address.get('chunk')))
  const chunk = chunks[place] as ChunkOut
  const [drillName, setDrillName] = useState(drills[0]?.name ?? '')
  const drill = drills.find((d) => d.name === drillName) as DrillOut
  const [settings, setSettings] = useState<Record<string, Record<string, number | string>>>({})
  const chosen = settings[drillName] ?? {}
  const [ladder, setLadder] = useState<LadderNumbers>({ start: detail.start_bpm, goal: detail.part.goal_bpm, step: 2 })
  const tray = useTray(detail.part.id)
  const wish = {
    chunk_id: chunk.id,
    drill: drillName,
    settings: chosen,
    ladder: { start_bpm: ladder.start, goal_bpm: ladder.goal, step_bpm: ladder.step },
  }
  const worked = useQuery({
    queryKey: [...partKeys.bench(detail.part.id), wish],
    queryFn: () => ask(workOutDrill({ path: { part_id: detail.part.id }, body: wish })),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const toChunk = (next: number) => {
    const target = chunks[next]
    if (target) setAddress({ chunk: target.id }, { replace: true })
  }
  const key = `${chunk.id} ${drillName} ${JSON.stringify(chosen)}`
  const isInTray = tray.items.some((item) => item.key === key)
  function addToTray() {
    if (!worked.data || worked.isError) return
    const item: TrayItem = {
      key,
      chunkId: chunk.id,
      chunk: chunk.label,
      drill: drillName,
      title: drill.title,
      settings: chosen,
      ...ladder,
      climbSeconds: worked.data.climb_seconds,
    }
    tray.add(item)
    void message.success(`${drill.title} on ${chunk.label} is ready to assign.`)
  }
  useKeys({
    ArrowLeft: () => toChunk(place - 1),
    ArrowRight: () => toChunk(place + 1),
    a: addToTray,
    ...Object.fromEntries(drills.map((d, i) => [String(i + 1), () => setDrillName(d.name)])),
  })
  return (
    <div className="page wide">
      <PartHead detail={detail} />
      <div className="bench">
        <aside className="bench-side">
          <label className="field">
            <span>
              Chunk <kbd>←</kbd> <kbd>→</kbd>
            </span>
            <Select
              aria-label="Chunk"
              value={chunk.id}
              onChange={(id) => toChunk(chunks.findIndex((c) => c.id === id))}
              options={chunks.map((c) => ({ value: c.id, label: c.label }))}
              showSearch={{ optionFilterProp: 'label' }}
            />
          </label>
          <h2 id="drills-title">Drills</h2>
          <ul className="drill-list" aria-labelledby="drills-title">
            {drills.map((d, i) => (
              <li key={d.name}>
                <button type="button" aria-pressed={d.name === drillName} onClick={() => setDrillName(d.name)}>
                  <span>
                    {d.title} <kbd>{i + 1}</kbd>
                  </span>
                  <small>{d.use_when}</small>
                </button>
              </li>
            ))}
          </ul>
        </aside>
        <section className="bench-main" aria-label={`${drill.title} on ${chunk.label}`}>
          <div className="bench-head">
            <div>
              <h2>
                {drill.title} on {chunk.label}
              </h2>
              <p>{drill.how}</p>
            </div>
            <Button type="primary" size="large" onClick={addToTray} disabled={worked.isError || !worked.data}>
              {isInTray ? 'Ready to assign' : 'Add to assignment'} <kbd>A</kbd>
            </Button>
          </div>
          <div className="bench-fields">
            <DrillSettings
              drill={drill}
              values={chosen}
              onChange={(next) => setSettings({ ...settings, [drillName]: next })}
            />
            <LadderFields ladder={ladder} onChange={setLadder} />
          </div>
          {worked.isPending && <Loading what="Engraving the drill" />}
          {worked.isError ? (
            <div className="refusal" role="alert">
              <p>{worked.error.message}</p>
            </div>
          ) : (
            worked.data && <WorkedView worked={worked.data} drill={drill} isStale={worked.isPlaceholderData} />
          )}
        </section>
      </div>
    </div>
  )
}
