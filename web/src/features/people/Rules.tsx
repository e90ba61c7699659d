import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Alert, App, Button, Checkbox, InputNumber } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { changeRules, getRules, previewRules, type EffectOut, type RulesIo } from '../../api/gen'
import { keys } from '../../api/keys'
import { LEVEL_NAMES, LevelMark } from '../../shared/ui/LevelMark'
import { Failed, Loading } from '../../shared/ui/states'
import { t } from '../../words/words'

type Confirming = RulesIo['confirming'][number]

/** Who can confirm the last level today. What the rules name besides stays as it is. */
const SOURCES: { value: Confirming; label: string }[] = [
  { value: 'hearing', label: t('people.aHearing') },
  { value: 'helper', label: t('people.aHelpersTick') },
]
const isOffered = (source: Confirming) => SOURCES.some(({ value }) => value === source)

/** What levels ask for; what a change would make of today’s levels is shown before it is made. */
export function Rules() {
  const rules = useQuery({ queryKey: keys.rules, queryFn: () => ask(getRules()) })
  if (rules.isPending) return <Loading what={t('people.loadingTheRules')} />
  if (rules.isError) return <Failed error={rules.error} retry={() => void rules.refetch()} />
  return <RulesForm key={JSON.stringify(rules.data)} kept={rules.data.rules} usual={rules.data.usual} />
}

function RulesForm({ kept, usual }: { kept: RulesIo; usual: RulesIo }) {
  const client = useQueryClient()
  const { message } = App.useApp()
  const [rules, setRules] = useState(kept)
  const isChanged = JSON.stringify(rules) !== JSON.stringify(kept)
  const effect = useMutation({ mutationFn: () => ask(previewRules({ body: rules })) })
  const put = useMutation({
    mutationFn: (next: RulesIo) => ask(changeRules({ body: next })),
    onSuccess: async (_, next) => {
      const undo = (
        <Button size="small" type="link" onClick={() => put.mutate(kept)}>
          {t('people.undoTheChange')}
        </Button>
      )
      void message.success({
        content: (
          <>
            {t('people.crumbIsWorkingOutAllLevels')} {next !== kept && undo}
          </>
        ),
        duration: 12,
      })
      await client.invalidateQueries({ queryKey: keys.rules })
    },
  })
  const set = (part: Partial<RulesIo>) => {
    effect.reset()
    setRules({ ...rules, ...part })
  }
  const failed = effect.error ?? put.error
  return (
    <section className="account" aria-label={t('people.whatLevelsAskFor')}>
      <h2>{t('people.whatLevelsAskFor')}</h2>
      <div className="inline">
        <label className="inline">
          {t('people.cleanInARow')}{' '}
          <InputNumber
            aria-label={t('people.cleanInARow')}
            min={1}
            max={10}
            value={rules.in_a_row}
            onChange={(value) => value && set({ in_a_row: value })}
          />
        </label>
        <label className="inline">
          {t('people.steadyFrom')}{' '}
          <InputNumber
            aria-label={t('people.steadyPerCentOfGoal')}
            min={30}
            max={95}
            value={rules.steady}
            onChange={(value) => value && set({ steady: value })}
          />{' '}
          {t('people.ofGoal')}
        </label>
        <label className="inline">
          {t('people.linkedFrom')}{' '}
          <InputNumber
            aria-label={t('people.linkedPerCentOfGoal')}
            min={30}
            max={100}
            value={rules.linked}
            onChange={(value) => value && set({ linked: value })}
          />{' '}
          %
        </label>
        <div className="inline" role="group" aria-label={t('people.whoConfirmsTheLastLevel')}>
          <span>{t('people.whoConfirmsKept')}</span>
          <Checkbox.Group
            value={rules.confirming.filter(isOffered)}
            options={SOURCES}
            onChange={(chosen) => {
              // Somebody must be able to confirm: the last one stays ticked.
              if (chosen.length > 0)
                set({ confirming: [...rules.confirming.filter((source) => !isOffered(source)), ...chosen].sort() })
            }}
          />
        </div>
      </div>
      <div className="inline">
        <Button disabled={!isChanged} loading={effect.isPending} onClick={() => effect.mutate()}>
          {t('people.showWhatChanges')}
        </Button>
        <Button
          type="primary"
          disabled={!isChanged || !effect.data}
          loading={put.isPending}
          onClick={() => put.mutate(rules)}
        >
          {t('people.apply')}
        </Button>
        <Button disabled={JSON.stringify(rules) === JSON.stringify(usual)} onClick={() => set(usual)}>
          {t('people.usual')}
        </Button>
      </div>
      {failed && <Alert type="error" showIcon role="alert" title={said(failed)} />}
      {effect.data && <Effect effect={effect.data} />}
    </section>
  )
}

function Effect({ effect }: { effect: EffectOut }) {
  return (
    <div role="status">
      <p>{t('people.withAllPracticeSoFarLevels', { raised: effect.raised, lowered: effect.lowered })}</p>
      <table className="plain">
        <thead>
          <tr>
            <th scope="col">{t('people.level')}</th>
            <th scope="col">{t('people.now')}</th>
            <th scope="col">{t('people.then')}</th>
          </tr>
        </thead>
        <tbody>
          {effect.now.map((count, level) => (
            <tr key={level}>
              <th scope="row">
                <LevelMark level={level} size={18} /> {LEVEL_NAMES[level]}
              </th>
              <td>{count}</td>
              <td>{effect.then[level]}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
