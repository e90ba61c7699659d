import { t } from '../../words/words'
const FORMS = [
  ['musicxml', t('bench.musicxml')],
  ['mid', 'MIDI'],
  ['svg', 'SVG'],
  ['pdf', 'PDF'],
] as const

interface Props {
  partId: string
  chunkId: string
  drill: string
  settings: Record<string, number | string>
}

/** The drill, or the chunk as written, as files. */
export function Exports({ partId, chunkId, drill, settings }: Props) {
  const link = (form: string, name: string) => {
    const query = new URLSearchParams({ chunk_id: chunkId, form })
    if (name) {
      query.set('drill', name)
      query.set('settings', JSON.stringify(settings))
    }
    return `/api/parts/${partId}/file?${query.toString()}`
  }
  const row = (label: string, name: string) => (
    <p>
      {label}:{' '}
      {FORMS.map(([form, title]) => (
        <a key={form} href={link(form, name)} download aria-label={t('bench.as', { label, title })}>
          {title}
        </a>
      ))}
    </p>
  )
  return (
    <div className="exports">
      {row(t('bench.thisDrill'), drill)}
      {row(t('bench.theChunk'), '')}
    </div>
  )
}
