import type { ReactNode } from 'react'
import { promptsFor } from '../../practice/prompts'
import type { StandSettings } from '../../practice/settings'
import type { ClickMode } from '../../sound/strokes'

const MODES: [ClickMode, string][] = [
  ['asked', 'As the drill asks'],
  ['beat', 'On each beat'],
  ['subdivision', 'On the subdivision'],
  ['off-beat', 'Off the beat'],
  ['every-note', 'On every note'],
  ['first-beat', 'First beat only'],
  ['two-and-two', 'Two bars on, two off'],
]

interface Props {
  settings: StandSettings
  change: (change: Partial<StandSettings>) => void
  family: string
  hasClick: boolean
  setClick: (on: boolean) => void
  isHelper: boolean
  setHelper: (on: boolean) => void
  /** What the browser said where a microphone or pedal cannot be had. */
  trouble: string
  children?: ReactNode
}

/** How the click sounds, who counts, what one is reminded of. */
export function Settings({
  settings,
  change,
  family,
  hasClick,
  setClick,
  isHelper,
  setHelper,
  trouble,
  children,
}: Props) {
  const toggle = (label: string, isOn: boolean, set: (on: boolean) => void, title?: string) => (
    <label title={title}>
      <input type="checkbox" checked={isOn} onChange={(event) => set(event.target.checked)} /> {label}
    </label>
  )
  const chosen = (key: string, isOn: boolean) =>
    isOn ? [...settings.prompts, key] : settings.prompts.filter((one) => one !== key)
  return (
    <section className="stand-settings" aria-label="Settings">
      <fieldset>
        <legend>Click</legend>
        <select
          aria-label="Where it clicks"
          value={settings.click}
          onChange={(event) => change({ click: event.target.value as ClickMode })}
        >
          {MODES.map(([mode, label]) => (
            <option key={mode} value={mode}>
              {label}
            </option>
          ))}
        </select>
        {toggle('Count-in', settings.hasCountIn, (hasCountIn) => change({ hasCountIn }))}
        {toggle('First beat louder', settings.hasAccents, (hasAccents) => change({ hasAccents }))}
        {toggle('Show the beat large', settings.isVisual, (isVisual) => change({ isVisual }))}
        {toggle('No click', !hasClick, (on) => setClick(!on), 'It is kept, but proves no tempo')}
        <label>
          Loudness{' '}
          <input
            type="range"
            min={0}
            max={1}
            step={0.05}
            value={settings.volume}
            aria-label="Loudness of the click"
            onChange={(event) => change({ volume: Number(event.target.value) })}
          />
        </label>
      </fieldset>
      <fieldset>
        <legend>Counting</legend>
        {toggle('A helper ticks', isHelper, setHelper, 'A parent or friend; kept apart from your own count')}
        {toggle(
          'Hands-free: silence after the last note is clean',
          settings.isHandsFree,
          (isHandsFree) => change({ isHandsFree }),
          'It listens for silence; nothing is recorded',
        )}
        {toggle(
          'Pedal by MIDI',
          settings.hasPedal,
          (hasPedal) => change({ hasPedal }),
          'Page-turn pedals work without this',
        )}
        {trouble && <p role="alert">{trouble}</p>}
      </fieldset>
      <fieldset>
        <legend>Remind me</legend>
        {promptsFor(family).map((one) => (
          <span key={one.key}>
            {toggle(one.label, settings.prompts.includes(one.key), (on) => change({ prompts: chosen(one.key, on) }))}
          </span>
        ))}
      </fieldset>
      {children}
    </section>
  )
}
