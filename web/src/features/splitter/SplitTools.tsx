import { Button, InputNumber, Segmented, Select, Tooltip } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import type { ChunkOut, MapOut } from '../../api/gen'
import { JumpBox } from './JumpBox'
import { useWords } from '../../shared/lib/words'

export type By = 'every' | 'phrases' | 'lines' | 'marks' | 'load'

export interface Actions {
  split: () => unknown
  merge: () => unknown
  earlier: () => unknown
  later: () => unknown
  landing: () => unknown
  divide: () => unknown
  divideOther: () => unknown
  joinInside: () => unknown
  undo: () => unknown
  redo: () => unknown
}

interface Props {
  partId: string
  map: MapOut
  depth: number
  setDepth: (depth: number) => void
  chunk: ChunkOut | undefined
  cursorLabel: string
  isBusy: boolean
  actions: Actions
  splitBy: (by: By, measures: number) => void
  jumpTo: (index: number, at: string) => void
}

const WAYS: { value: By; label: string; title: string }[] = [
  { value: 'every', label: 'measures', title: 'Every so many measures' },
  { value: 'phrases', label: 'phrases', title: 'Where the melody breathes' },
  { value: 'lines', label: 'lines', title: 'The lines that the file prints' },
  { value: 'marks', label: 'marks', title: 'Letters, double bars, new keys, meters and tempos' },
  { value: 'load', label: 'load', title: 'Stubborn places small, easy ones whole' },
]

export function SplitTools(props: Props) {
  const { partId, map, depth, setDepth, chunk, cursorLabel, isBusy, actions, splitBy, jumpTo } = props
  const w = useWords()
  const [by, setBy] = useState<By>('every')
  const [every, setEvery] = useState(2)
  const isSplit = map.chunks.length > 0
  return (
    <div className="tools" role="toolbar" aria-label="Splitting">
      <span className="tool-group">
        By
        <Select
          aria-label="Split by"
          value={by}
          onChange={setBy}
          options={WAYS.map((way) => ({ ...way, label: w(way.label), title: w(way.title) }))}
          style={{ width: 120 }}
        />
        {by === 'every' && (
          <InputNumber
            aria-label={w('Measures in a chunk')}
            min={1}
            max={64}
            value={every}
            onChange={(value) => setEvery(value ?? 2)}
            style={{ width: 66 }}
          />
        )}
        <Button type={isSplit ? 'default' : 'primary'} onClick={() => splitBy(by, every)} loading={isBusy && !isSplit}>
          {isSplit ? 'Split again' : 'Split the part'}
        </Button>
      </span>
      {isSplit && (
        <>
          <span className="tool-group">
            <Tool name="Split here" keyName="S" onClick={actions.split} />
            <Tool name="Merge next" keyName="M" onClick={actions.merge} />
            <Tool name="Edge earlier" keyName="[" onClick={actions.earlier} />
            <Tool name="Edge later" keyName="]" onClick={actions.later} />
            <Tool name={chunk?.landing ? 'Landing off' : 'Landing on'} keyName="L" onClick={actions.landing} />
          </span>
          <span className="tool-group">
            <Tool name="Undo" keyName="Z" onClick={actions.undo} isOff={!map.can_undo} />
            <Tool name="Redo" keyName="Y" onClick={actions.redo} isOff={!map.can_redo} />
          </span>
          <span className="tool-group">
            {map.levels.length > 1 && (
              <Segmented
                aria-label="How deep"
                value={depth}
                onChange={setDepth}
                options={map.levels.map((_, place) => ({
                  value: place,
                  label: place === 0 ? 'Chunks' : `${place} in`,
                }))}
              />
            )}
            <Tool name="Divide further" keyName="D" onClick={actions.divide} />
            <Tool name="Other way" keyName="X" onClick={actions.divideOther} />
            <Tool name="Join inside" keyName="J" onClick={actions.joinInside} isOff={depth + 1 >= map.levels.length} />
          </span>
        </>
      )}
      <span className="tool-status" aria-live="polite">
        {isSplit ? (
          <>
            {chunk && (
              <Link className="drill-link" to={`/parts/${partId}/bench?chunk=${chunk.id}`}>
                Drill {chunk.label}
              </Link>
            )}
            <span className="muted">
              {map.levels[depth]?.length ?? 0} chunks; cursor at {cursorLabel}. Arrows move it.
            </span>
          </>
        ) : (
          <span className="muted">Start from a proposal, then move the edges on the score.</span>
        )}
        <JumpBox partId={partId} jumpTo={jumpTo} />
      </span>
    </div>
  )
}

function Tool({
  name,
  keyName,
  onClick,
  isOff,
}: {
  name: string
  keyName: string
  onClick: () => unknown
  isOff?: boolean
}) {
  return (
    <Tooltip title={`Key ${keyName}`}>
      <Button onClick={() => void onClick()} disabled={isOff} aria-keyshortcuts={keyName}>
        {name} <kbd>{keyName}</kbd>
      </Button>
    </Tooltip>
  )
}
