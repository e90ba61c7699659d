import { queryOptions } from '@tanstack/react-query'
import { ask } from '../../api/ask'
import { getWall } from '../../api/gen'

/** A section on a part; asked for as soon as both are known, before what stands around it. */
export function wallOf(partId: string, sectionId: string, depth: number) {
  return queryOptions({
    queryKey: ['wall', partId, sectionId, depth],
    queryFn: () => ask(getWall({ path: { part_id: partId, section_id: sectionId }, query: { depth } })),
    enabled: partId !== '' && sectionId !== '',
  })
}
