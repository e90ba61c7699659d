import { Button, Select } from 'antd'
import type { MapOut, SectionOut } from '../../api/gen'
import { t } from '../../words/words'

interface Props {
  sections: SectionOut[]
  sectionId: string
  choose: (sectionId: string) => void
  map: MapOut
  giveOwn: (sectionId: string) => Promise<unknown>
}

/** Whose division is shown: everybody's, or a section's own. */
export function MapChoice({ sections, sectionId, choose, map, giveOwn }: Props) {
  if (sections.length === 0) return null
  const name = sections.find((section) => section.id === sectionId)?.name ?? ''
  return (
    <span className="tool-group">
      <Select
        aria-label={t('splitter.whoseChunks')}
        showSearch={{ optionFilterProp: 'label' }}
        value={sectionId}
        onChange={choose}
        style={{ minWidth: 150 }}
        options={[
          { value: '', label: t('splitter.everybodySChunks') },
          ...sections.map((s) => ({ value: s.id, label: s.name })),
        ]}
      />
      {sectionId && !map.section_id && (
        <Button onClick={() => void giveOwn(sectionId)}>{t('splitter.giveTheirOwnChunks', { name })}</Button>
      )}
    </span>
  )
}
