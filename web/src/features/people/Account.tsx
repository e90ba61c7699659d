import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, AutoComplete, Button, Input, Segmented } from 'antd'
import { ask, said } from '../../api/ask'
import { changeProgram, type Me, type ProgramIn } from '../../api/gen'
import { keys } from '../../api/keys'
import { OwnSecrets } from './OwnSecrets'
import { t } from '../../words/words'

const ZONES = Intl.supportedValuesOf('timeZone').map((value) => ({ value }))

const WORDS: { value: Me['words']; label: string }[] = [
  { value: 'us', label: t('people.usMeasureQuarterNote') },
  { value: 'uk', label: t('people.ukBarCrotchet') },
]
const PAPERS: { value: Me['paper']; label: string }[] = [
  { value: 'us-letter', label: t('people.usLetter') },
  { value: 'a4', label: t('people.a4') },
]

/** The school's time zone, words and paper, and one's own password and sessions. */
export function Account({ me }: { me: Me }) {
  const client = useQueryClient()
  const { message } = App.useApp()
  const onError = (error: Error) => void message.error(said(error))
  const zone = useMutation({
    mutationFn: (time_zone: string) => ask(changeProgram({ body: { time_zone } })),
    onSuccess: (now) => {
      client.setQueryData(keys.me, now)
      void message.success(t('people.daysNowBeginAtMidnightIn', { timeZone: now.time_zone }))
    },
    onError,
  })
  const program = useMutation({
    mutationFn: (change: ProgramIn) => ask(changeProgram({ body: change })),
    onSuccess: async (now) => {
      client.setQueryData(keys.me, now)
      // Everything that was said in the old words is asked for again.
      await client.invalidateQueries()
      void message.success(
        t('people.wordsSheetsOn', {
          words: now.words === 'uk' ? t('people.uk') : t('people.us'),
          paper: now.paper === 'a4' ? t('people.a4') : t('people.usLetter'),
        }),
      )
    },
    onError,
  })
  return (
    <section className="account" aria-label={t('people.schoolAndAccount')}>
      <h2>{t('people.schoolAndAccount')}</h2>
      <form
        className="inline"
        onSubmit={(event) => {
          event.preventDefault()
          const chosen = new FormData(event.currentTarget).get('zone')
          if (typeof chosen === 'string') zone.mutate(chosen)
        }}
      >
        <label htmlFor="zone">{t('people.timeZoneOfTheSchool')}</label>
        <ZoneField start={me.time_zone} />
        <Button htmlType="submit" loading={zone.isPending}>
          {t('people.set')}
        </Button>
      </form>
      <div className="inline">
        <span id="words-label">{t('people.words')}</span>
        <Segmented
          aria-labelledby="words-label"
          options={WORDS}
          value={me.words}
          onChange={(words) => program.mutate({ words })}
        />
        <span id="paper-label">{t('people.paperForSheets')}</span>
        <Segmented
          aria-labelledby="paper-label"
          options={PAPERS}
          value={me.paper}
          onChange={(paper) => program.mutate({ paper })}
        />
      </div>
      <OwnSecrets />
    </section>
  )
}

function ZoneField({ start }: { start: string }) {
  return (
    <AutoComplete
      defaultValue={start}
      options={ZONES}
      showSearch={{
        filterOption: (typed, option) => (option?.value ?? '').toLowerCase().includes(typed.toLowerCase()),
      }}
    >
      <Input id="zone" name="zone" />
    </AutoComplete>
  )
}
