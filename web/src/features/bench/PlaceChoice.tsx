import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Button, Select } from 'antd'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { ask } from '../../api/ask'
import { keepPassage, makeOctave, type ChunkOut, type MapOut, type PassageIn, type SectionOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { PlaceInput } from '../../shared/ui/PlaceInput'
import { t } from '../../words/words'
import { Say } from '../../words/Say'

const ORDERS: Record<MapOut['order']['kind'], string> = {
  front: t('bench.chunks'),
  hardest: t('bench.chunksHardestFirst'),
  back: t('bench.chunksFromTheEnd'),
  foundation: t('bench.chunksFoundationFirst'),
  hand: t('bench.chunksInYourOrder'),
}

interface Props {
  partId: string
  /** Strokes have no octave to go to. */
  hasPitch: boolean
  map: MapOut
  chunk: ChunkOut
  choose: (chunk: ChunkOut) => void
  sections: SectionOut[]
  sectionId: string
  chooseSection: (sectionId: string) => void
}

/** The chunks in the order they are learned in. */
export function inOrder(map: MapOut): ChunkOut[] {
  const byId = new Map(map.chunks.map((chunk) => [chunk.id, chunk]))
  return map.order.chunk_ids.flatMap((id) => byId.get(id) ?? [])
}

/** What is worked on: a chunk of whatever depth, some joined, or any place that can be said. */
export function PlaceChoice({ partId, hasPitch, map, chunk, choose, sections, sectionId, chooseSection }: Props) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [words, setWords] = useState('')
  const keep = useMutation({
    mutationFn: (wish: PassageIn) => ask(keepPassage({ path: { part_id: partId }, body: wish })),
    onSuccess: (made) => {
      setWords('')
      choose(made)
    },
  })
  const octave = useMutation({
    mutationFn: (way: 'up' | 'down') =>
      ask(makeOctave({ path: { part_id: partId, chunk_id: chunk.id }, body: { way } })),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: keys.pieces })
      await navigate(`/parts/${made.part_id}/bench?chunk=${made.chunk.id}`)
    },
  })
  const levels = map.levels.length > 0 ? [inOrder(map), ...map.levels.slice(1)] : [map.chunks]
  const groups = levels.map((level, depth) => ({
    label:
      depth === 0 ? ORDERS[map.order.kind] : depth === 1 ? t('bench.insideThem') : t('bench.insideThose', { depth }),
    options: level.filter(
      (one) =>
        depth === 0 ||
        !levels
          .slice(0, depth)
          .flat()
          .some((other) => other.id === one.id),
    ),
  }))
  const known = new Map(levels.flat().map((one) => [one.id, one]))
  const isPassage = !known.has(chunk.id)
  const at = map.chunks.findIndex((one) => one.id === chunk.id)
  const next = at >= 0 ? map.chunks[at + 1] : undefined
  return (
    <div className="place-choice">
      <label className="field">
        <span>
          <Say it="bench.chunkWithKey" components={[<kbd />, <kbd />]} />
        </span>
        <Select
          aria-label={t('bench.chunk')}
          value={chunk.id}
          onChange={(id) => {
            const found = known.get(id)
            if (found) choose(found)
          }}
          options={[
            ...(isPassage ? [{ label: t('bench.passage'), options: [{ value: chunk.id, label: chunk.label }] }] : []),
            ...groups
              .filter((group) => group.options.length > 0)
              .map((group) => ({
                label: group.label,
                options: group.options.map((c) => ({ value: c.id, label: c.label })),
              })),
          ]}
          showSearch={{ optionFilterProp: 'label' }}
        />
      </label>
      <div className="inline">
        {next && (
          <Button
            size="small"
            loading={keep.isPending}
            onClick={() => keep.mutate({ first_id: chunk.id, last_id: next.id })}
          >
            {t('bench.joinedWithTheNext')}
          </Button>
        )}
        <Button size="small" loading={keep.isPending} onClick={() => keep.mutate({})}>
          {t('bench.allOfIt')}
        </Button>
        {hasPitch && (
          <>
            <Button size="small" loading={octave.isPending} onClick={() => octave.mutate('up')}>
              {t('bench.octaveUp')}
            </Button>
            <Button size="small" loading={octave.isPending} onClick={() => octave.mutate('down')}>
              {t('bench.octaveDown')}
            </Button>
          </>
        )}
      </div>
      <PlaceInput
        aria-label={t('bench.anotherPlace')}
        placeholder={t('bench.anotherPlace313To33')}
        words={words}
        setWords={(next) => {
          setWords(next)
          keep.reset()
          octave.reset()
        }}
        find={(said) => keep.mutate({ words: said })}
        error={keep.error ?? octave.error}
      />
      {sections.length > 0 && (
        <Select
          aria-label={t('bench.whoseChunks')}
          showSearch={{ optionFilterProp: 'label' }}
          value={sectionId}
          onChange={chooseSection}
          options={[
            { value: '', label: t('bench.chunksForEverybody') },
            ...sections.map((s) => ({ value: s.id, label: t('bench.chunksOf', { name: s.name }) })),
          ]}
        />
      )}
    </div>
  )
}
