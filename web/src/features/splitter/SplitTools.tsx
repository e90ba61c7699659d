import { Button, InputNumber, Tooltip } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import type { ChunkOut, MapOut } from '../../api/gen'

interface Actions {
  split: () => unknown
  merge: () => unknown
  earlier: () => unknown
  later: () => unknown
  landing: () => unknown
  undo: () => unknown
  redo: () => unknown
}

interface Props {
  partId: string
  map: MapOut
  chunk: ChunkOut | undefined
  cursorLabel: string
  isBusy: boolean
  actions: Actions
  splitEvery: (measures: number) => void
}

export function SplitTools({ partId, map, chunk, cursorLabel, isBusy, actions, splitEvery }: Props) {
  const [every, setEvery] = useState(2)
  const isSplit = map.chunks.length > 0
  return (
    <div className="tools" role="toolbar" aria-label="Splitting">
      <span className="tool-group">
        Every
        <InputNumber
          aria-label="Measures in a chunk"
          min={1}
          max={64}
          value={every}
          onChange={(value) => setEvery(value ?? 2)}
          style={{ width: 70 }}
        />
        {every === 1 ? 'measure' : 'measures'}
        <Button type={isSplit ? 'default' : 'primary'} onClick={() => splitEvery(every)} loading={isBusy && !isSplit}>
          {isSplit ? 'Split anew' : 'Split the part'}
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
              {map.chunks.length} chunks; cursor at {cursorLabel}. Arrows move it.
            </span>
          </>
        ) : (
          <span className="muted">Start with plain chunks of n measures; then move the edges on the score.</span>
        )}
      </span>
    </div>
  )
}

function Tool({ name, keyName, onClick, isOff }: { name: string; keyName: string; onClick: () => unknown; isOff?: boolean }) {
  return (
    <Tooltip title={`Key ${keyName}`}>
      <Button onClick={() => void onClick()} disabled={isOff} aria-keyshortcuts={keyName}>
        {name} <kbd>{keyName}</kbd>
      </Button>
    </Tooltip>
  )
}
