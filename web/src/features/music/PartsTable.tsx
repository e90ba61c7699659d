import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App, Button, Checkbox, Select } from 'antd'
import { useState } from 'react'
import { ask, said } from '../../api/ask'
import { putParts, type PartOut, type PieceOut, type SectionOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { useInstruments, useSections } from '../../shared/hooks/part.queries'
import { t } from '../../words/words'

interface Row {
  part: PartOut
  isWanted: boolean
  playedOn: string
  sections: string[]
}

const NEW = 'new:'

/** Which parts are wanted, on what they are played, and which sections play them. */
export function PartsTable({ piece, close }: { piece: PieceOut; close: () => void }) {
  const sections = useSections()
  const instruments = useInstruments()
  const client = useQueryClient()
  const { message } = App.useApp()
  const [rows, setRows] = useState<Row[]>(() =>
    piece.parts.map((part) => ({
      part,
      isWanted: !part.is_set_aside,
      playedOn: part.played_on || t('music.instrument'),
      sections: part.section_ids,
    })),
  )
  const save = useMutation({
    mutationFn: () =>
      ask(
        putParts({
          path: { piece_id: piece.id },
          body: {
            parts: rows.map((row) => ({
              part_id: row.part.id,
              is_set_aside: !row.isWanted,
              played_on: row.playedOn,
              section_ids: row.sections.filter((id) => !id.startsWith(NEW)),
              new_section: row.sections.find((id) => id.startsWith(NEW))?.slice(NEW.length) ?? '',
            })),
          },
        }),
      ),
    onSuccess: async () => {
      await Promise.all([
        client.invalidateQueries({ queryKey: keys.pieces }),
        client.invalidateQueries({ queryKey: keys.sections }),
        client.invalidateQueries({ queryKey: keys.part.all }),
      ])
      close()
    },
    onError: (error) => void message.warning(said(error)),
  })
  const change = (place: number, to: Partial<Row>) =>
    setRows(rows.map((row, i) => (i === place ? { ...row, ...to } : row)))
  return (
    <div className="parts-table">
      <table className="plain">
        <thead>
          <tr>
            <th>{t('music.soundsWanted')}</th>
            <th>{t('music.part')}</th>
            <th>{t('music.sounds')}</th>
            <th>{t('music.playedOn')}</th>
            <th>{t('music.by')}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, place) => (
            <tr key={row.part.id} className={row.isWanted ? '' : 'set-aside'}>
              <td>
                <Checkbox
                  aria-label={t('music.wanted', { name: row.part.name })}
                  checked={row.isWanted}
                  onChange={(event) => change(place, { isWanted: event.target.checked })}
                />
              </td>
              <td>{row.part.name}</td>
              <td>{transposition(row.part.transpose)}</td>
              <td>
                <Select
                  aria-label={t('music.isPlayedOn', { name: row.part.name })}
                  showSearch
                  value={row.playedOn}
                  options={(instruments.data ?? []).map((name) => ({ value: name, label: name }))}
                  onChange={(playedOn) => change(place, { playedOn })}
                  style={{ width: 190 }}
                />
              </td>
              <td>
                <Select
                  mode="multiple"
                  showSearch={{ optionFilterProp: 'label' }}
                  aria-label={t('music.isPlayedBy', { name: row.part.name })}
                  placeholder={t('music.chooseSections')}
                  value={row.sections}
                  options={choices(sections.data ?? [], row.part.name)}
                  onChange={(chosen) => change(place, { sections: chosen })}
                  style={{ width: 280 }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <span className="inline">
        <Button type="primary" onClick={() => save.mutate()} loading={save.isPending}>
          {t('music.keepThis')}
        </Button>
        <Button onClick={close}>{t('music.leaveAsItWas')}</Button>
      </span>
    </div>
  )
}

function choices(sections: SectionOut[], name: string) {
  const known = sections.map((section) => ({ value: section.id, label: section.name }))
  const isKnown = sections.some((section) => section.name.toLowerCase() === name.toLowerCase())
  return isKnown ? known : [...known, { value: `${NEW}${name}`, label: t('music.newSection', { name }) }]
}

function transposition(halfSteps: number): string {
  if (halfSteps === 0) return t('music.asWritten')
  const count = Math.abs(halfSteps)
  return t(halfSteps < 0 ? 'music.halfStepsLower' : 'music.halfStepsHigher', { count })
}
