import { Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import type { DrillOut, LadderOut, ParameterOut } from '../../api/gen'
import type { Scale, Way } from '../../shared/hooks/assignmentDraft'
import { t } from '../../words/words'

/** Without start or step the ladder is the one that fits the minutes. */
export interface LadderNumbers {
  start: number | null
  goal: number
  step: number | null
  minutes: number
  scale: Scale
  way: Way
}

const SCALES: { value: Scale; label: string }[] = [
  { value: 'clicks', label: t('bench.beats') },
  { value: 'percent', label: t('bench.perCent') },
  { value: 'traditional', label: t('bench.metronomeMarks') },
  { value: 'coarse', label: t('bench.slowMediumFast') },
]
const WAYS: { value: Way; label: string }[] = [
  { value: 'ladder', label: t('bench.aLadder') },
  { value: 'staircase', label: t('bench.aStaircase') },
  { value: 'three-up', label: t('bench.threeUpOneBack') },
]

type Values = Record<string, number | string>

interface DrillProps {
  drill: DrillOut
  values: Values
  onChange: (values: Values) => void
}

export function DrillSettings({ drill, values, onChange }: DrillProps) {
  if (drill.parameters.length === 0) return null
  return (
    <fieldset>
      <legend>{t('bench.drill')}</legend>
      {drill.parameters.map((p) => (
        <label key={p.name} className={p.is_text ? 'field wide-field' : 'field'}>
          <span>{p.label}</span>
          <Setting
            parameter={p}
            value={values[p.name] ?? p.default}
            onChange={(value) => onChange({ [p.name]: value })}
          />
        </label>
      ))}
    </fieldset>
  )
}

interface SettingProps {
  parameter: ParameterOut
  value: number | string
  onChange: (value: number | string) => void
}

function Setting({ parameter: p, value, onChange }: SettingProps) {
  if (p.choices.length > 0) {
    return (
      <Select
        aria-label={p.label}
        value={String(value)}
        onChange={onChange}
        options={p.choices.map((choice, i) => ({ value: choice, label: p.choice_labels[i] ?? choice }))}
      />
    )
  }
  if (p.is_text) return <TextSetting label={p.label} value={String(value)} onChange={onChange} />
  return (
    <InputNumber
      aria-label={p.label}
      min={p.low}
      max={p.high}
      value={Number(value)}
      onChange={(next) => {
        if (next !== null) onChange(next)
      }}
    />
  )
}

/** Words are taken when one is done with them, not at each letter. */
function TextSetting({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null)
  const take = () => {
    if (typed !== null && typed !== value) onChange(typed)
    setTyped(null)
  }
  return (
    <Input
      aria-label={label}
      value={typed ?? value}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onPressEnter={take}
    />
  )
}

interface LadderProps {
  ladder: LadderNumbers
  /** What the drill is worked out with: shown where nothing is set. */
  used: LadderOut | null
  onChange: (ladder: LadderNumbers) => void
  drill: DrillOut
}

export function LadderFields({ ladder, used, onChange, drill }: LadderProps) {
  const climbs = !drill.at_goal && !drill.stays
  const shown = {
    ...ladder,
    start: ladder.start ?? used?.start_bpm ?? null,
    step: ladder.step ?? used?.step_bpm ?? null,
  }
  const field = (name: 'start' | 'goal' | 'step' | 'minutes', label: string, low: number, high = 400) => (
    <label className="field">
      <span>{label}</span>
      <InputNumber
        aria-label={t('bench.tempo', { label: label.toLowerCase() })}
        min={low}
        max={high}
        value={shown[name]}
        onChange={(value) => {
          // Emptied, the start and the step are chosen to fit again.
          if (value !== null || name === 'start' || name === 'step') onChange({ ...ladder, [name]: value })
        }}
      />
    </label>
  )
  return (
    <fieldset>
      <legend>
        {drill.at_goal
          ? t('bench.playedAtGoalTempo')
          : drill.stays
            ? t('bench.playedAtOneSlowTempo')
            : t('bench.tempoLadder')}
      </legend>
      {climbs && field('start', t('bench.start'), 10)}
      {field('goal', t('bench.goal'), 10)}
      {climbs && ladder.scale !== 'coarse' && field('step', t('bench.step'), 1)}
      {climbs && (
        <label className="field">
          <span>{t('bench.stepIn')}</span>
          <Select
            aria-label={t('bench.unitOfAStep')}
            title={t('bench.beatsAMinutePerCentOf')}
            popupMatchSelectWidth={false}
            value={ladder.scale}
            options={SCALES}
            onChange={(scale) => onChange({ ...ladder, scale, step: null })}
          />
        </label>
      )}
      {climbs && (
        <label className="field">
          <span>{t('bench.wayUp')}</span>
          <Select
            aria-label={t('bench.wayUpTheLadder')}
            title={t('bench.aLadderGoesDownFiveAfter')}
            popupMatchSelectWidth={false}
            value={ladder.way}
            options={WAYS}
            onChange={(way) => onChange({ ...ladder, way })}
          />
        </label>
      )}
      {climbs && field('minutes', t('bench.minutesADay'), 5, 120)}
    </fieldset>
  )
}
