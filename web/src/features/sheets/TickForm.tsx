import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { enterTicks, type SheetLineOut, type SheetOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { bpm } from '../../shared/pure/time'
import { t } from '../../words/words'

function today(): string {
  const now = new Date()
  const pad = (n: number) => String(n).padStart(2, '0')
  return `${now.getFullYear()}-${pad(now.getMonth() + 1)}-${pad(now.getDate())}`
}

/** The ladders of a sheet as they are printed: one tap ticks a tempo and all below it. */
export function TickForm({ sheet }: { sheet: SheetOut }) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const [day, setDay] = useState(today)
  const [marked, setMarked] = useState<Record<string, number>>({})
  const topOf = (line: SheetLineOut) => marked[line.item_id] ?? line.ticked.at(-1) ?? 0
  const ticks = sheet.lines.flatMap((line) =>
    line.rungs
      .filter((rung) => rung <= topOf(line) && !line.ticked.includes(rung))
      .map((rung) => ({ item_id: line.item_id, tempo_bpm: rung })),
  )
  const enter = useMutation({
    mutationFn: () => ask(enterTicks({ path: { code: sheet.code }, body: { played_on: day, ticks } })),
    onSuccess: (entered) => {
      client.setQueryData(keys.sheet(sheet.code), entered)
      setMarked({})
      void message.success(t('sheets.savedForNextSheet', { name: sheet.name }))
      document.querySelector<HTMLInputElement>('[aria-label="Code on the sheet"]')?.focus()
    },
  })
  return (
    <section aria-labelledby="sheet-title" className="tick-form">
      <h2 id="sheet-title">
        {sheet.name} <small className="muted">{t('sheets.sheet', { title: sheet.title, code: sheet.code })}</small>
      </h2>
      <p>{t('sheets.tapTheHighestTempoWithA')}</p>
      {sheet.lines.map((line) => (
        <div key={line.item_id} className="tick-line" role="group" aria-label={`${line.chunk} ${line.drill}`}>
          <strong>{line.chunk}</strong> {line.drill}
          <div className="ticks">
            {line.rungs.map((rung) => {
              const isOn = rung <= topOf(line)
              const isKept = line.ticked.includes(rung)
              return (
                <button
                  key={rung}
                  type="button"
                  aria-pressed={isOn}
                  disabled={isKept}
                  className={isKept ? 'kept' : ''}
                  onClick={() => {
                    const before = line.rungs.filter((r) => r < rung).at(-1) ?? 0
                    setMarked({ ...marked, [line.item_id]: topOf(line) === rung ? before : rung })
                  }}
                >
                  {bpm(rung)}
                </button>
              )
            })}
          </div>
        </div>
      ))}
      <div className="assign-fields">
        <label className="field">
          <span>{t('sheets.playedOn')}</span>
          <Input
            type="date"
            aria-label={t('sheets.playedOn')}
            value={day}
            max={today()}
            onChange={(event) => setDay(event.target.value)}
          />
        </label>
        <Button
          type="primary"
          size="large"
          disabled={ticks.length === 0}
          loading={enter.isPending}
          onClick={() => enter.mutate()}
        >
          {ticks.length === 0 ? t('sheets.noNewTicks') : t('sheets.enterTicks', { count: ticks.length })}
        </Button>
      </div>
      {enter.isError && (
        <p className="refusal" role="alert">
          {said(enter.error)}
        </p>
      )}
      <p className="muted">{t('sheets.ticksOnASheetCountAs')}</p>
    </section>
  )
}
