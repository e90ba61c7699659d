import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { useEffect, useRef, useState } from 'react'
import { ask, said } from '../../api/ask'
import { alignTake, type ChunkOut, type MeasureOut, type PositionOut, type TakeOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { toNumber } from '../../shared/pure/fraction'
import { moment } from '../../shared/pure/time'
import { useKeys } from '../../shared/hooks/useKeys'
import { quartersAt, secondsAt, withKnown, type Known } from './align'
import { t } from '../../words/words'

const SPEEDS = [0.5, 0.6, 0.75, 0.9, 1]

interface Props {
  take: TakeOut
  name: string
  chunk: ChunkOut
  measures: MeasureOut[]
  secondsPerQuarter: number
  /** The last note that was pointed at: the music is there now, where one says so. */
  pointed: PositionOut | null
  hasKeys: boolean
}

/** A take to be heard: from a measure, slower at the same pitch, round and round. */
export function TakePlayer({ take, name, chunk, measures, secondsPerQuarter, pointed, hasKeys }: Props) {
  const client = useQueryClient()
  const audio = useRef<HTMLAudioElement>(null)
  const quartersTo = (at: PositionOut) => fromStart(measures, chunk.start, at)
  const [known, setKnown] = useState<Known[]>(() =>
    take.anchors.map((one) => ({ quarters: quartersTo(one.at), seconds: one.seconds })),
  )
  const [speed, setSpeed] = useState(1)
  const [isLooped, setLooped] = useState(false)
  const [measure, setMeasure] = useState(chunk.start.index)
  const [isPlaying, setPlaying] = useState(false)
  const [now, setNow] = useState(0)
  const align = useMutation({
    mutationFn: (next: { at: PositionOut; seconds: number }[]) =>
      ask(alignTake({ path: { take_id: take.id }, body: { anchors: next } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.hearing.all }),
  })
  const here = measures.slice(chunk.start.index, lastIndex(chunk) + 1)
  const placeOf = (index: number): PositionOut => (index === chunk.start.index ? chunk.start : { index, at: '0' })
  const from = secondsAt(known, quartersTo(placeOf(measure)), secondsPerQuarter)
  const until = secondsAt(
    known,
    quartersTo(measure >= lastIndex(chunk) ? chunk.end : placeOf(measure + 1)),
    secondsPerQuarter,
  )
  const loop = useRef({ isLooped, from, until })
  useEffect(() => {
    loop.current = { isLooped, from, until }
  })
  useEffect(() => {
    if (audio.current) audio.current.playbackRate = speed
  }, [speed])
  function playFrom(index: number) {
    setMeasure(index)
    if (!audio.current) return
    audio.current.currentTime = secondsAt(known, quartersTo(placeOf(index)), secondsPerQuarter)
    void audio.current.play()
  }
  function toggle() {
    if (!audio.current) return
    if (audio.current.paused) void audio.current.play()
    else audio.current.pause()
  }
  function isNow(at: PositionOut) {
    const seconds = Math.round((audio.current?.currentTime ?? 0) * 1000) / 1000
    const next = withKnown(known, { quarters: quartersTo(at), seconds })
    setKnown(next)
    const places = new Map([...take.anchors.map((one) => one.at), at].map((one) => [quartersTo(one), one]))
    align.mutate(
      next.flatMap((one) => {
        const place = places.get(one.quarters)
        return place ? [{ at: place, seconds: one.seconds }] : []
      }),
    )
  }
  function onTime() {
    if (!audio.current) return
    const { isLooped: isRound, from: begin, until: end } = loop.current
    if (isRound && end > begin && audio.current.currentTime >= end) audio.current.currentTime = begin
    setNow(audio.current.currentTime)
  }
  const slower = SPEEDS[SPEEDS.indexOf(speed) - 1]
  const faster = SPEEDS[SPEEDS.indexOf(speed) + 1]
  useKeys(
    hasKeys
      ? {
          p: toggle,
          b: () => isNow(chunk.start),
          l: () => setLooped(!isLooped),
          '-': () => slower && setSpeed(slower),
          '+': () => faster && setSpeed(faster),
          ArrowLeft: () => playFrom(Math.max(chunk.start.index, measure - 1)),
          ArrowRight: () => playFrom(Math.min(lastIndex(chunk), measure + 1)),
        }
      : {},
  )
  return (
    <section className="take-player" aria-label={name}>
      <p className="muted">
        {name}, {moment(take.recorded_at)}
        {take.is_short && t('hearing.shorterThanTheChunk')}
        {take.why_anew && <> “{take.why_anew}”</>}
      </p>
      <audio
        ref={audio}
        controls
        preload="auto"
        src={`/api/takes/${take.id}/sound`}
        onTimeUpdate={onTime}
        onPlay={() => setPlaying(true)}
        onPause={() => setPlaying(false)}
        aria-label={name}
      />
      <div className="inline take-tools">
        <Button onClick={toggle} aria-keyshortcuts="P">
          {isPlaying ? t('hearing.pause') : t('hearing.play')} {hasKeys && <kbd>P</kbd>}
        </Button>
        <Select
          aria-label={t('hearing.fromMeasure')}
          value={measure}
          style={{ minWidth: 96 }}
          options={here.map((one, i) => ({
            value: chunk.start.index + i,
            label: t('hearing.from', { number: one.number }),
          }))}
          onChange={playFrom}
        />
        <Select
          aria-label={t('hearing.speed')}
          value={speed}
          style={{ minWidth: 96 }}
          options={SPEEDS.map((one) => ({ value: one, label: one === 1 ? t('hearing.asPlayed') : `${one * 100} %` }))}
          onChange={setSpeed}
        />
        <Button
          aria-pressed={isLooped}
          type={isLooped ? 'primary' : 'default'}
          onClick={() => setLooped(!isLooped)}
          title={t('hearing.repeatThisMeasure')}
        >
          {t('hearing.repeatTheMeasure')} {hasKeys && <kbd>L</kbd>}
        </Button>
        <span className="muted" role="status" aria-live="off">
          {known.length > 0
            ? t('hearing.nowIn', { measures: numberAt(measures, chunk, quartersAt(known, now, secondsPerQuarter)) })
            : ''}
        </span>
      </div>
      <div className="inline take-tools">
        <Button size="small" onClick={() => isNow(chunk.start)}>
          {t('hearing.theFirstBeatIsNow')} {hasKeys && <kbd>B</kbd>}
        </Button>
        <Button size="small" disabled={!pointed} onClick={() => pointed && isNow(pointed)}>
          {t('hearing.theMarkedNoteIsNow')}
        </Button>
        {known.length > 0 && (
          <Button
            size="small"
            type="text"
            onClick={() => {
              setKnown([])
              align.mutate([])
            }}
          >
            {t('hearing.forget')}
          </Button>
        )}
        {known.length === 0 && <small className="muted">{t('hearing.markWhereTheFirstBeatIs')}</small>}
      </div>
      {align.isError && <p role="alert">{said(align.error)}</p>}
    </section>
  )
}

/** The last measure that belongs to a chunk. */
function lastIndex(chunk: ChunkOut): number {
  return chunk.end.at === '0' ? chunk.end.index - 1 : chunk.end.index
}

/** Quarter notes from one place to a later one. */
function fromStart(measures: MeasureOut[], start: PositionOut, at: PositionOut): number {
  const whole = measures.slice(start.index, at.index).reduce((sum, one) => sum + toNumber(one.length), 0)
  return whole + toNumber(at.at) - toNumber(start.at)
}

function numberAt(measures: MeasureOut[], chunk: ChunkOut, quarters: number): string {
  let index = chunk.start.index
  while (index < lastIndex(chunk) && fromStart(measures, chunk.start, { index: index + 1, at: '0' }) <= quarters + 1e-6)
    index++
  return measures[index]?.number ?? ''
}
