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
import { keys } from '../../api/keys'

export function usePart(id: string) {
  return useQuery({ queryKey: keys.part.one(id), queryFn: () => ask(getPart({ path: { part_id: id } })) })
}

/** The chunk map in force; with a section, its own if it has one. */
export function useChunks(id: string, sectionId = '') {
  return useQuery({
    queryKey: keys.part.chunks(id, sectionId),
    queryFn: () => ask(getChunks({ path: { part_id: id }, query: sectionId ? { section_id: sectionId } : {} })),
    enabled: id !== '',
  })
}

export function useEngraving(id: string, layout: 'page' | 'phone-page') {
  return useQuery({
    queryKey: keys.part.engraving(id, layout),
    staleTime: Infinity,
    queryFn: async () => (await ask(getEngraving({ path: { part_id: id }, query: { layout } }))).svg,
  })
}

export function useSurvey(id: string) {
  return useQuery({ queryKey: keys.part.survey(id), queryFn: () => ask(getSurvey({ path: { part_id: id } })) })
}

export function useKin(id: string) {
  return useQuery({ queryKey: keys.part.similarity(id), queryFn: () => ask(listKin({ path: { part_id: id } })) })
}

export function useMarks(id: string) {
  return useQuery({ queryKey: keys.part.marks(id), queryFn: () => ask(listMarks({ path: { part_id: id } })) })
}

export function useDrills() {
  return useQuery({ queryKey: keys.drills, staleTime: Infinity, queryFn: () => ask(listDrills()) })
}

export function useInstruments() {
  return useQuery({ queryKey: keys.instruments, staleTime: Infinity, queryFn: () => ask(listInstruments()) })
}

export function useSections() {
  return useQuery({ queryKey: keys.sections, queryFn: () => ask(listSections()) })
}

export function usePieces() {
  return useQuery({ queryKey: keys.pieces, queryFn: () => ask(listPieces()) })
}
