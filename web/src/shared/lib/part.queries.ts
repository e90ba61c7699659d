import { useQuery } from '@tanstack/react-query'
import { ask } from '../../api/ask'
import {
  getChunks,
  getEngraving,
  getPart,
  getSurvey,
  listDrills,
  listInstruments,
  listKin,
  listMarks,
  listPieces,
  listSections,
} from '../../api/gen'

export const partKeys = {
  part: (id: string) => ['part', id] as const,
  chunks: (id: string, sectionId = '') => ['part', id, 'chunks', sectionId] as const,
  passage: (id: string, chunkId: string) => ['part', id, 'passage', chunkId] as const,
  engraving: (id: string, layout: string) => ['part', id, 'engraving', layout] as const,
  engravings: (id: string) => ['part', id, 'engraving'] as const,
  bench: (id: string) => ['part', id, 'bench'] as const,
  ranking: (id: string, chunkId: string, player: string) => ['part', id, 'ranking', chunkId, player] as const,
  reference: (id: string) => ['part', id, 'reference'] as const,
  recipes: ['recipes'] as const,
  survey: (id: string) => ['part', id, 'survey'] as const,
  kin: (id: string) => ['part', id, 'kin'] as const,
  marks: (id: string) => ['part', id, 'marks'] as const,
  tags: (id: string) => ['part', id, 'tags'] as const,
  lines: (id: string) => ['part', id, 'lines'] as const,
  tagNames: ['tag-names'] as const,
  drills: ['drills'] as const,
  instruments: ['instruments'] as const,
  sections: ['sections'] as const,
  pieces: ['pieces'] as const,
}

export function usePart(id: string) {
  return useQuery({ queryKey: partKeys.part(id), queryFn: () => ask(getPart({ path: { part_id: id } })) })
}

/** The chunk map in force; with a section, its own if it has one. */
export function useChunks(id: string, sectionId = '') {
  return useQuery({
    queryKey: partKeys.chunks(id, sectionId),
    queryFn: () => ask(getChunks({ path: { part_id: id }, query: sectionId ? { section_id: sectionId } : {} })),
    enabled: id !== '',
  })
}

export function useEngraving(id: string, layout: 'page' | 'phone-page') {
  return useQuery({
    queryKey: partKeys.engraving(id, layout),
    staleTime: Infinity,
    queryFn: async () => (await ask(getEngraving({ path: { part_id: id }, query: { layout } }))).svg,
  })
}

export function useSurvey(id: string) {
  return useQuery({ queryKey: partKeys.survey(id), queryFn: () => ask(getSurvey({ path: { part_id: id } })) })
}

export function useKin(id: string) {
  return useQuery({ queryKey: partKeys.kin(id), queryFn: () => ask(listKin({ path: { part_id: id } })) })
}

export function useMarks(id: string) {
  return useQuery({ queryKey: partKeys.marks(id), queryFn: () => ask(listMarks({ path: { part_id: id } })) })
}

export function useDrills() {
  return useQuery({ queryKey: partKeys.drills, staleTime: Infinity, queryFn: () => ask(listDrills()) })
}

export function useInstruments() {
  return useQuery({ queryKey: partKeys.instruments, staleTime: Infinity, queryFn: () => ask(listInstruments()) })
}

export function useSections() {
  return useQuery({ queryKey: partKeys.sections, queryFn: () => ask(listSections()) })
}

export function usePieces() {
  return useQuery({ queryKey: partKeys.pieces, queryFn: () => ask(listPieces()) })
}
