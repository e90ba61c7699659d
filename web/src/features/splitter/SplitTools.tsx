import { Button, InputNumber, Segmented, Select, Tooltip } from 'antd'
import { useState } from 'react'
import { Link } from 'react-router'
import type { ChunkOut, MapOut } from '../../api/gen'
import { JumpBox } from './JumpBox'
import { t } from '../../words/words'

export type By = 'every' | 'phrases' | 'lines' | 'marks' | 'load'

export interface Actions {
  split: () => unknown
  merge: () => unknown
  earlier: () => unknown
  later: () => unknown
  landing: () => unknown
  splitInside: () => unknown
  splitInsideOther: () => unknown
  mergeInside: () => unknown
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
  { value: 'every', label: t('splitter.measures'), title: t('splitter.everySoManyMeasures') },
  { value: 'phrases', label: t('splitter.phrases'), title: t('splitter.whereTheMelodyBreathes') },
  { value: 'lines', label: t('splitter.lines'), title: t('splitter.theLinesThatTheFilePrints') },
  { value: 'marks', label: t('splitter.marksLower'), title: t('splitter.lettersDoubleBarsNewKeysMeters') },
  { value: 'load', label: t('splitter.load'), title: t('splitter.shortChunksWhereItIsHard') },
]

export function SplitTools(props: Props) {
  const { partId, map, depth, setDepth, chunk, cursorLabel, isBusy, actions, splitBy, jumpTo } = props
  const [by, setBy] = useState<By>('every')
  const [every, setEvery] = useState(2)
  const isSplit = map.chunks.length > 0
  return (
    <div className="tools" role="toolbar" aria-label={t('splitter.splitting')}>
      <span className="tool-group">
        {t('splitter.by')}
        <Select aria-label={t('splitter.splitBy')} value={by} onChange={setBy} options={WAYS} style={{ width: 120 }} />
        {by === 'every' && (
          <InputNumber
            aria-label={t('splitter.measuresInAChunk')}
            min={1}
            max={64}
            value={every}
            onChange={(value) => setEvery(value ?? 2)}
            style={{ width: 66 }}
          />
        )}
        <Button type={isSplit ? 'default' : 'primary'} onClick={() => splitBy(by, every)} loading={isBusy && !isSplit}>
          {isSplit ? t('splitter.splitAgain') : t('splitter.splitThePart')}
        </Button>
      </span>
      {isSplit && (
        <>
          <span className="tool-group">
            <Tool name={t('splitter.splitHere')} keyName="S" onClick={actions.split} />
            <Tool name={t('splitter.mergeNext')} keyName="M" onClick={actions.merge} />
            <Tool name={t('splitter.edgeEarlier')} keyName="[" onClick={actions.earlier} />
            <Tool name={t('splitter.edgeLater')} keyName="]" onClick={actions.later} />
            <Tool
              name={chunk?.landing ? t('splitter.landingOff') : t('splitter.landingOn')}
              keyName="L"
              onClick={actions.landing}
            />
          </span>
          <span className="tool-group">
            <Tool name={t('splitter.undo')} keyName="Z" onClick={actions.undo} isOff={!map.can_undo} />
            <Tool name={t('splitter.redo')} keyName="Y" onClick={actions.redo} isOff={!map.can_redo} />
          </span>
          <span className="tool-group">
            {map.levels.length > 1 && (
              <Segmented
                aria-label={t('splitter.howDeep')}
                value={depth}
                onChange={setDepth}
                options={map.levels.map((_, place) => ({
                  value: place,
                  label: place === 0 ? t('splitter.chunks') : t('splitter.in', { place }),
                }))}
              />
            )}
            <Tool name={t('splitter.splitInside')} keyName="D" onClick={actions.splitInside} />
            <Tool name={t('splitter.otherWay')} keyName="X" onClick={actions.splitInsideOther} />
            <Tool
              name={t('splitter.mergeInside')}
              keyName="J"
              onClick={actions.mergeInside}
              isOff={depth + 1 >= map.levels.length}
            />
          </span>
        </>
      )}
      <span className="tool-status" aria-live="polite">
        {isSplit ? (
          <>
            {chunk && (
              <Link className="drill-link" to={`/parts/${partId}/bench?chunk=${chunk.id}`}>
                {t('splitter.drill', { label: chunk.label })}
              </Link>
            )}
            <span className="muted">
              {t('splitter.chunksCursorAtArrowsMoveIt', { length: map.levels[depth]?.length ?? 0, cursorLabel })}
            </span>
          </>
        ) : (
          <span className="muted">{t('splitter.startFromCrumbsProposalThenMove')}</span>
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
    <Tooltip title={t('splitter.key', { keyName })}>
      <Button onClick={() => void onClick()} disabled={isOff} aria-keyshortcuts={keyName}>
        {name} <kbd>{keyName}</kbd>
      </Button>
    </Tooltip>
  )
}
