import { Button } from 'antd'
import { useMemo, useState } from 'react'
import type { StepOut, WorkedOut } from '../../api/gen'
import { playOf } from '../../shared/pure/playing'
import { usePlayer } from '../../sound/usePlayer'
import { t } from '../../words/words'

const SHARES = [0.5, 0.75, 1]

/** The step as it should sound: with or without the click, in a loop, slower. */
export function useListening(worked: WorkedOut, step: StepOut | undefined, tempo: number) {
  const [share, setShare] = useState(1)
  const [isLoop, setLoop] = useState(false)
  const [hasClick, setClick] = useState(true)
  const plan = useMemo(
    () =>
      step
        ? playOf(worked, step, { tempo: tempo * share, isLoop, hasClick, hasSound: true, hasCountIn: hasClick })
        : null,
    [worked, step, tempo, share, isLoop, hasClick],
  )
  const player = usePlayer(plan)
  const toggle = () => {
    if (player.isRunning) player.stop()
    else if (plan) player.start(plan)
  }
  return {
    ...player,
    toggle,
    share,
    setShare,
    isLoop,
    setLoop,
    hasClick,
    setClick,
    canPlay: (plan?.notes.length ?? 0) > 0,
  }
}

export type Listening = ReturnType<typeof useListening>

interface Props {
  listening: Listening
  hasMark: boolean
  setMark: (on: boolean) => void
}

export function Listen({ listening, hasMark, setMark }: Props) {
  if (!listening.canPlay) return null
  const check = (label: string, isOn: boolean, set: (on: boolean) => void) => (
    <label>
      <input type="checkbox" checked={isOn} onChange={(event) => set(event.target.checked)} /> {label}
    </label>
  )
  return (
    <fieldset>
      <legend>{t('stand.hearIt')}</legend>
      <Button size="small" onClick={listening.toggle} aria-pressed={listening.isRunning}>
        {listening.isRunning ? t('stand.stopTheNotes') : t('stand.playTheNotes')}
      </Button>
      <select
        aria-label={t('stand.howFastItIsHeard')}
        value={listening.share}
        onChange={(event) => listening.setShare(Number(event.target.value))}
      >
        {SHARES.map((share) => (
          <option key={share} value={share}>
            {share === 1 ? t('stand.atThisTempo') : t('stand.atOfIt', { percent: share * 100 })}
          </option>
        ))}
      </select>
      {check(t('stand.loop'), listening.isLoop, listening.setLoop)}
      {check(t('stand.withTheClick'), listening.hasClick, listening.setClick)}
      {check(t('stand.markOnTheNotes'), hasMark, setMark)}
    </fieldset>
  )
}
