import { useQuery } from '@tanstack/react-query'
import { ask } from '../../api/ask'
import { getChunks, getEngraving, getPart, listDrills, listPieces, listSections } from '../../api/gen'

export const partKeys = {
  part: (id: string) => ['part', id] as const,
  chunks: (id: string) => ['part', id, 'chunks'] as const,
  engraving: (id: string, layout: string) => ['part', id, 'engraving', layout] as const,
  bench: (id: string) => ['part', id, 'bench'] as const,
  drills: ['drills'] as const,
  sections: ['sections'] as const,
  pieces: ['pieces'] as const,
}

export function usePart(id: string) {
  return useQuery({ queryKey: partKeys.part(id), queryFn: () => ask(getPart({ path: { part_id: id } })) })
}

export function useChunks(id: string) {
  return useQuery({ queryKey: partKeys.chunks(id), queryFn: () => ask(getChunks({ path: { part_id: id } })) })
}

export function useEngraving(id: string, layout: 'page' | 'phone-page') {
  return useQuery({
    queryKey: partKeys.engraving(id, layout),
    staleTime: Infinity,
    queryFn: async () => (await ask(getEngraving({ path: { part_id: id }, query: { layout } }))).svg,
  })
}

export function useDrills() {
  return useQuery({ queryKey: partKeys.drills, staleTime: Infinity, queryFn: () => ask(listDrills()) })
}

export function useSections() {
  return useQuery({ queryKey: partKeys.sections, queryFn: () => ask(listSections()) })
}

export function usePieces() {
  return useQuery({ queryKey: partKeys.pieces, queryFn: () => ask(listPieces()) })
}
