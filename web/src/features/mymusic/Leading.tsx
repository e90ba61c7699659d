import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { ask, said } from '../../api/ask'
import { getLeading, showLeader, type OwnSectionOut, type PartShownOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

/** What one lets the leader of one's section see, and what a section lets oneself see. */
export function Leading() {
  const leading = useQuery({ queryKey: keys.leading, queryFn: () => ask(getLeading()) })
  if (!leading.data) return null
  const { sections, shown } = leading.data
  const others = sections.filter((one) => one.leaders.length > 0)
  if (others.length === 0 && shown.length === 0) return null
  return (
    <section aria-label={t('mymusic.sectionLeader')}>
      {shown.map((part) => (
        <Shown key={`${part.section} ${part.title} ${part.part}`} part={part} />
      ))}
      {others.map((section) => (
        <Show key={section.id} section={section} />
      ))}
    </section>
  )
}

function Show({ section }: { section: OwnSectionOut }) {
  const client = useQueryClient()
  const show = useMutation({
    mutationFn: (shows: boolean) => ask(showLeader({ path: { section_id: section.id }, body: { shows } })),
    onSettled: () => client.invalidateQueries({ queryKey: keys.leading }),
  })
  return (
    <>
      <label className="check">
        <input
          type="checkbox"
          checked={show.isPending ? show.variables : section.shows}
          onChange={(event) => show.mutate(event.target.checked)}
        />{' '}
        {t('mymusic.whenLeadCountMeInThe', {
          count: section.leaders.length,
          leaders: section.leaders.join(' and '),
          name: section.name,
        })}
      </label>
      {show.isError && <p role="alert">{said(show.error)}</p>}
    </>
  )
}

function Shown({ part }: { part: PartShownOut }) {
  return (
    <details>
      <summary>
        {t('mymusic.playersShareTheirNumbersWithYou', { section: part.section, title: part.title, of: part.of })}
      </summary>
      <ul className="shown-to-leader">
        {part.chunks.map((chunk) => (
          <li key={chunk.label}>
            <Say
              it="mymusic.ofHaveIt"
              values={{ label: chunk.label.replace('→', ''), have: chunk.have, of: part.of }}
              components={[<strong />]}
            />
          </li>
        ))}
      </ul>
    </details>
  )
}
