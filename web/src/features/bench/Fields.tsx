import { Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import type { DrillOut, LadderOut, ParameterOut } from '../../api/gen'
import type { Scale, Way } from '../../shared/lib/assignmentDraft'

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
  { value: 'clicks', label: 'beats' },
  { value: 'percent', label: 'per cent' },
  { value: 'traditional', label: 'old marks' },
  { value: 'coarse', label: 'slow, medium, fast' },
]
const WAYS: { value: Way; label: string }[] = [
  { value: 'ladder', label: 'a ladder' },
  { value: 'staircase', label: 'a staircase' },
  { value: 'three-up', label: 'three up, one back' },
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
      <legend>Drill</legend>
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
        aria-label={`Tempo ${label.toLowerCase()}`}
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
        {drill.at_goal ? 'Played at goal tempo' : drill.stays ? 'Played at one slow tempo' : 'Tempo ladder'}
      </legend>
      {climbs && field('start', 'Start', 10)}
      {field('goal', 'Goal', 10)}
      {climbs && ladder.scale !== 'coarse' && field('step', 'Step', 1)}
      {climbs && (
        <label className="field">
          <span>Step counts</span>
          <Select
            aria-label="What a step counts"
            title="Beats a minute, per cent of the goal, or marks of the traditional metronome scale"
            popupMatchSelectWidth={false}
            value={ladder.scale}
            options={SCALES}
            onChange={(scale) => onChange({ ...ladder, scale, step: null })}
          />
        </label>
      )}
      {climbs && (
        <label className="field">
          <span>Climbed as</span>
          <Select
            aria-label="How it is climbed"
            title="A ladder goes five down after two slips in a row; a staircase one rung down after one; three up, one back comes to each height twice"
            popupMatchSelectWidth={false}
            value={ladder.way}
            options={WAYS}
            onChange={(way) => onChange({ ...ladder, way })}
          />
        </label>
      )}
      {climbs && field('minutes', 'Minutes a day', 5, 120)}
    </fieldset>
  )
}
