import { InputNumber, Select } from 'antd'
import type { DrillOut } from '../../api/gen'

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
  return (
    <fieldset>
      <legend>Drill</legend>
      {drill.parameters.map((p) => (
        <label key={p.name} className="field">
          <span>{p.label}</span>
          {p.choices.length > 0 ? (
            <Select
              aria-label={p.label}
              value={String(values[p.name] ?? p.default)}
              onChange={(value) => onChange({ ...values, [p.name]: value })}
              options={p.choices.map((choice) => ({ value: choice, label: choice }))}
            />
          ) : (
            <InputNumber
              aria-label={p.label}
              min={p.low}
              max={p.high}
              value={Number(values[p.name] ?? p.default)}
              onChange={(value) => {
                if (value !== null) onChange({ ...values, [p.name]: value })
              }}
            />
          )}
        </label>
      ))}
    </fieldset>
  )
}

interface LadderProps {
  ladder: LadderNumbers
  onChange: (ladder: LadderNumbers) => void
}

export function LadderFields({ ladder, onChange }: LadderProps) {
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
      <legend>Tempo ladder</legend>
      {field('start', 'Start', 10)}
      {field('goal', 'Goal', 10)}
      {field('step', 'Step', 1)}
    </fieldset>
  )
}
