import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Button, Input, Select } from 'antd'
import { useCallback, useEffect, useEffectEvent, useRef, useState } from 'react'
import { v4 as newId } from 'uuid'
import { ask, said } from '../../api/ask'
import { askTake, getMyMap, removeTake, type Me, type MyPartOut, type OwedOut, type TakeOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { moment } from '../../shared/pure/time'
import { useAddress } from '../../shared/hooks/useAddress'
import { Empty, Failed, Loading } from '../../shared/ui/states'
import type { KeptTake } from '../../practice/takeBox'
import { record, type Recorder } from '../../sound/recorder'
import { Asked } from '../../shared/ui/ToHandIn'
import { recordable } from '../../shared/pure/passages'
import { secondsOf } from './secondsOf'
import { useHasTakes, useMyTakes, useTakeBox } from '../../shared/hooks/useTakes'
import { t } from '../../words/words'
import './takes.css'

/** Record a chunk, hear it again, hand the best one in. */
export default function Takes({ me }: { me: Me }) {
  const map = useQuery({ queryKey: keys.myMap, queryFn: () => ask(getMyMap()) })
  const hasTakes = useHasTakes()
  const mine = useMyTakes()
  const asked = mine.data?.asked ?? []
  if (map.isPending) return <Loading what={t('takes.loadingYourTakes')} />
  if (map.isError && map.data === undefined) return <Failed error={map.error} retry={() => void map.refetch()} />
  return (
    <div className="page narrow">
      <h1>{t('takes.takes')}</h1>
      {!hasTakes && (
        <Empty title={t('takes.yourSchoolDoesNotRecordTakes')}>
          <p>{t('takes.yourDirectorCanSwitchTakesOn')}</p>
        </Empty>
      )}
      {hasTakes && map.data.length === 0 && (
        <Empty title={t('takes.nothingToRecordYet')}>
          <p>{t('takes.hereYouRecordThePartsThat')}</p>
        </Empty>
      )}
      {hasTakes && <Asked asked={asked} />}
      {hasTakes && map.data.length > 0 && (
        <OnDevice me={me} parts={map.data} asked={asked} taken={mine.data?.takes ?? []} />
      )}
      <HandedIn parts={map.data} asked={asked} />
    </div>
  )
}

function nameOf(parts: MyPartOut[], asked: OwedOut[], chunkId: string): string {
  return (
    parts.flatMap((part) => recordable(part, asked)).find((chunk) => chunk.id === chunkId)?.label ?? t('takes.aChunk')
  )
}

interface OnDeviceProps {
  me: Me
  parts: MyPartOut[]
  asked: OwedOut[]
  taken: TakeOut[]
}

function OnDevice({ me, parts, asked, taken }: OnDeviceProps) {
  const [address, setAddress] = useAddress()
  const box = useTakeBox(me)
  const part = parts.find((one) => one.part_id === address.get('part')) ?? parts[0]
  const chunks = part ? recordable(part, asked) : []
  const chunk = chunks.find((one) => one.id === address.get('chunk')) ?? chunks[0]
  if (!part || !chunk) return null
  const before = taken.some((take) => take.chunk_id === chunk.id)
  const here = box.takes.filter((take) => take.chunkId === chunk.id)
  return (
    <>
      <div className="inline">
        <Select
          aria-label={t('takes.part')}
          value={part.part_id}
          style={{ minWidth: 180 }}
          options={parts.map((one) => ({ value: one.part_id, label: `${one.title} · ${one.part}` }))}
          onChange={(next) => setAddress({ part: next, chunk: '' })}
        />
        <Select
          aria-label={t('takes.chunk')}
          value={chunk.id}
          style={{ minWidth: 120 }}
          showSearch={{ optionFilterProp: 'label' }}
          options={chunks.map((one) => ({ value: one.id, label: one.label }))}
          onChange={(next) => setAddress({ part: part.part_id, chunk: next })}
        />
      </div>
      <NewTake
        key={chunk.id}
        partId={part.part_id}
        chunkId={chunk.id}
        onTake={async (blob, seconds) => {
          const recordedAt = new Date().toISOString()
          const data = await blob.arrayBuffer()
          await box.keep({
            id: newId(),
            partId: part.part_id,
            chunkId: chunk.id,
            chunk: chunk.label,
            data,
            type: blob.type,
            seconds,
            recordedAt,
            isHandedIn: false,
            whyAnew: '',
            refused: '',
          })
        }}
      />
      {here.length > 0 && <h2>{t('takes.onThisDevice')}</h2>}
      <ul className="takes">
        {here.map((take) => (
          <Kept
            key={take.id}
            take={take}
            isAnew={before}
            handIn={(whyAnew) => void box.handIn(take.id, { whyAnew })}
            drop={() => void box.drop(take.id)}
          />
        ))}
      </ul>
    </>
  )
}

interface NewTakeProps {
  partId: string
  chunkId: string
  onTake: (blob: Blob, seconds: number) => Promise<void>
}

const TICK_MS = 250
const LONGEST_SECONDS = 600

function NewTake({ partId, chunkId, onTake }: NewTakeProps) {
  const needs = useQuery({
    queryKey: keys.takes.needs(chunkId),
    queryFn: () => ask(askTake({ path: { part_id: partId, chunk_id: chunkId } })),
    staleTime: Infinity,
  })
  const recorder = useRef<Recorder | null>(null)
  const [begun, setBegun] = useState<number | null>(null)
  const [now, setNow] = useState(0)
  const [trouble, setTrouble] = useState('')
  const tick = useEffectEvent((from: number) => {
    setNow(performance.now())
    if (performance.now() - from > LONGEST_SECONDS * 1000) void end(from)
  })
  useEffect(() => {
    if (begun === null) return
    const timer = window.setInterval(() => tick(begun), TICK_MS)
    return () => window.clearInterval(timer)
  }, [begun])
  useEffect(() => () => recorder.current?.cancel(), [])
  const seconds = begun === null ? 0 : Math.max(0, (now - begun) / 1000)
  const least = needs.data?.least_seconds ?? 0
  async function begin() {
    setTrouble('')
    try {
      recorder.current = await record()
      setBegun(performance.now())
      setNow(performance.now())
    } catch {
      setTrouble(t('takes.theMicrophoneIsBlockedAllowIt'))
    }
  }
  async function end(from: number) {
    const length = (performance.now() - from) / 1000
    const blob = await recorder.current?.stop()
    recorder.current = null
    setBegun(null)
    if (blob) await keep(blob, length)
  }
  async function keep(blob: Blob, length: number) {
    setTrouble('')
    try {
      await onTake(blob, length)
    } catch (error) {
      const isFull = error instanceof DOMException && error.name === 'QuotaExceededError'
      setTrouble(isFull ? t('takes.thisDeviceHasNoRoomTo') : t('takes.thisDeviceCouldNotSaveThe'))
    }
  }
  return (
    <section className="new-take" aria-label={t('takes.newTake')}>
      {needs.data && (
        <p className="muted">{t('takes.playTheChunkOnceThroughAt', { least, setUp: needs.data.set_up })}</p>
      )}
      {needs.data?.style.map((one) => (
        <p key={one.chunk_id} className="style-brief">
          <strong>{t('takes.style', { label: one.label.replace('→', '') })}</strong> {one.text}
        </p>
      ))}
      {begun === null ? (
        <Button type="primary" size="large" block onClick={() => void begin()}>
          {t('takes.record')}
        </Button>
      ) : (
        <Button danger type="primary" size="large" block onClick={() => void end(begun)}>
          {t('takes.stopS', { seconds: Math.floor(seconds) })}
          {seconds < least && t('takes.of', { least })}
        </Button>
      )}
      <label className="bring">
        {t('takes.orBringAFile')}{' '}
        <input
          type="file"
          accept="audio/*,video/*"
          aria-label={t('takes.bringARecording')}
          onChange={(event) => {
            const file = event.target.files?.[0]
            event.target.value = ''
            if (file) void secondsOf(file).then((length) => keep(file, length))
          }}
        />
      </label>
      {trouble && <p role="alert">{trouble}</p>}
      <p className="muted">{t('takes.crumbKeepsOnlyTheSoundYou')}</p>
    </section>
  )
}

interface KeptProps {
  take: KeptTake
  isAnew: boolean
  handIn: (whyAnew: string) => void
  drop: () => void
}

function Kept({ take, isAnew, handIn, drop }: KeptProps) {
  const [why, setWhy] = useState('')
  const play = useCallback(
    (audio: HTMLAudioElement | null) => {
      if (!audio) return
      const url = URL.createObjectURL(new Blob([take.data], { type: take.type }))
      audio.src = url
      return () => URL.revokeObjectURL(url)
    },
    [take.data, take.type],
  )
  return (
    <li>
      <span>{t('takes.s', { recordedAt: moment(take.recordedAt), seconds: Math.round(take.seconds) })}</span>
      <audio controls ref={play} aria-label={t('takes.takeOfOfRecordedAt', { recordedAt: moment(take.recordedAt) })} />
      {take.refused && <p role="alert">{take.refused}</p>}
      {take.isHandedIn ? (
        <p role="status">{t('takes.waitingToBeHandedInIt')}</p>
      ) : (
        <>
          {isAnew && (
            <Input
              aria-label={t('takes.whyAgain')}
              placeholder={t('takes.whyRecordAgain')}
              maxLength={200}
              value={why}
              onChange={(event) => setWhy(event.target.value)}
            />
          )}
          <div className="inline">
            <Button type="primary" onClick={() => handIn(why)}>
              {t('takes.handIn')}
            </Button>
            <Delete onDelete={drop} />
          </div>
        </>
      )}
    </li>
  )
}

/** A take cannot be brought back: it is asked once. */
function Delete({ onDelete }: { onDelete: () => void }) {
  const [isSure, setSure] = useState(false)
  if (!isSure) return <Button onClick={() => setSure(true)}>{t('takes.delete')}</Button>
  return (
    <>
      <Button danger onClick={onDelete}>
        {t('takes.deleteForGood')}
      </Button>
      <Button type="text" onClick={() => setSure(false)}>
        {t('takes.saveIt')}
      </Button>
    </>
  )
}

const STATES: Record<TakeOut['state'], string> = {
  waiting: t('takes.beingPrepared'),
  ready: t('takes.handedInLower'),
  failed: t('takes.couldNotBeRead'),
}

function HandedIn({ parts, asked }: { parts: MyPartOut[]; asked: OwedOut[] }) {
  const client = useQueryClient()
  const mine = useMyTakes()
  const remove = useMutation({
    mutationFn: (id: string) => ask(removeTake({ path: { take_id: id } })),
    onSettled: () => client.invalidateQueries({ queryKey: keys.takes.all }),
  })
  if (!mine.data || mine.data.takes.length === 0) return null
  return (
    <section aria-label={t('takes.handedIn')}>
      <h2>{t('takes.handedIn')}</h2>
      {remove.isError && <p role="alert">{said(remove.error)}</p>}
      <ul className="takes">
        {mine.data.takes.map((take) => (
          <li key={take.id}>
            <span>
              <strong>{nameOf(parts, asked, take.chunk_id)}</strong> {moment(take.recorded_at)},{' '}
              {take.is_heard ? t('takes.heardSeeMyMusic') : STATES[take.state]}
              {take.is_short && t('takes.shorterThanTheChunk')}
              {take.why_anew && <small className="muted"> “{take.why_anew}”</small>}
            </span>
            {take.state === 'ready' && (
              <audio
                controls
                preload="none"
                src={`/api/takes/${take.id}/sound`}
                aria-label={t('takes.takeOfOfParts', { parts: nameOf(parts, asked, take.chunk_id) })}
              />
            )}
            {take.message && <p role="alert">{take.message}</p>}
            <div className="inline">
              <Delete onDelete={() => remove.mutate(take.id)} />
            </div>
          </li>
        ))}
      </ul>
      <p className="muted">{t('takes.keptForWeeks', { count: mine.data.rules.weeks })}</p>
    </section>
  )
}
