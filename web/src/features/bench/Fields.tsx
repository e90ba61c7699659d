import { Input, InputNumber, Select } from 'antd'
import { useState } from 'react'
import type { DrillOut, ParameterOut } from '../../api/gen'

export interface LadderNumbers {
  start: number
  goal: number
  step: number
}

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
          <Setting parameter={p} value={values[p.name] ?? p.default} onChange={(value) => onChange({ [p.name]: value })} />
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
        options={p.choices.map((choice) => ({ value: choice, label: choice }))}
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
  onChange: (ladder: LadderNumbers) => void
  isAtGoal: boolean
}

export function LadderFields({ ladder, onChange, isAtGoal }: LadderProps) {
  const field = (name: keyof LadderNumbers, label: string, low: number) => (
    <label className="field">
      <span>{label}</span>
      <InputNumber
        aria-label={`Tempo ${label.toLowerCase()}`}
        min={low}
        max={400}
        value={ladder[name]}
        onChange={(value) => {
          if (value !== null) onChange({ ...ladder, [name]: value })
        }}
      />
    </label>
  )
  return (
    <fieldset>
      <legend>{isAtGoal ? 'Played at goal tempo' : 'Tempo ladder'}</legend>
      {!isAtGoal && field('start', 'Start', 10)}
      {field('goal', 'Goal', 10)}
      {!isAtGoal && field('step', 'Step', 1)}
    </fieldset>
  )
}
