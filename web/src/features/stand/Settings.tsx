import type { ReactNode } from 'react'
import { promptsFor } from '../../practice/prompts'
import type { StandSettings } from '../../practice/settings'
import type { ClickMode } from '../../sound/strokes'
import { t } from '../../words/words'

const MODES: [ClickMode, string][] = [
  ['asked', t('stand.asTheDrillAsks')],
  ['beat', t('stand.onEachBeat')],
  ['subdivision', t('stand.onTheSubdivision')],
  ['off-beat', t('stand.offTheBeat')],
  ['every-note', t('stand.onEveryNote')],
  ['first-beat', t('stand.firstBeatOnly')],
  ['two-and-two', t('stand.twoBarsOnTwoOff')],
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
    <section className="stand-settings" aria-label={t('stand.settings')}>
      <fieldset>
        <legend>{t('stand.click')}</legend>
        <select
          aria-label={t('stand.whereItClicks')}
          value={settings.click}
          onChange={(event) => change({ click: event.target.value as ClickMode })}
        >
          {MODES.map(([mode, label]) => (
            <option key={mode} value={mode}>
              {label}
            </option>
          ))}
        </select>
        {toggle(t('stand.countIn'), settings.hasCountIn, (hasCountIn) => change({ hasCountIn }))}
        {toggle(t('stand.firstBeatLouder'), settings.hasAccents, (hasAccents) => change({ hasAccents }))}
        {toggle(t('stand.showTheBeatLarge'), settings.isVisual, (isVisual) => change({ isVisual }))}
        {toggle(t('stand.noClick'), !hasClick, (on) => setClick(!on), t('stand.itIsSavedButProvesNo'))}
        <label>
          {t('stand.loudness')}{' '}
          <input
            type="range"
            min={0}
            max={1}
            step={0.05}
            value={settings.volume}
            aria-label={t('stand.loudnessOfTheClick')}
            onChange={(event) => change({ volume: Number(event.target.value) })}
          />
        </label>
      </fieldset>
      <fieldset>
        <legend>{t('stand.counting')}</legend>
        {toggle(t('stand.aHelperTicks'), isHelper, setHelper, t('stand.aParentOrAFriendTheir'))}
        {toggle(
          t('stand.handsFreeSilenceAfterTheLast'),
          settings.isHandsFree,
          (isHandsFree) => change({ isHandsFree }),
          t('stand.theMicrophoneListensForSilenceCrumb'),
        )}
        {toggle(
          t('stand.pedalByMidi'),
          settings.hasPedal,
          (hasPedal) => change({ hasPedal }),
          t('stand.pageTurnPedalsWorkWithoutThis'),
        )}
        {trouble && <p role="alert">{trouble}</p>}
      </fieldset>
      <fieldset>
        <legend>{t('stand.remindMe')}</legend>
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
