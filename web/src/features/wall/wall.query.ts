import { queryOptions, useQuery, type Query } from '@tanstack/react-query'
import { ask } from '../../api/ask'
import { getWall, type WallOut } from '../../api/gen'
import { keys } from '../../api/keys'

/** Students that a screen holds, and a few more. */
const FIRST = 40

/** Between looks at a wall whose levels are being recomputed, in milliseconds. */
const LOOK_AGAIN = 2_000

const lookAgain = (query: Query<WallOut>) => (query.state.data?.waiting ? LOOK_AGAIN : false)

/** The first of a section on a part: all of it, of nearly every section. Asked for as soon as both are known. */
export function wallOf(partId: string, sectionId: string, depth: number) {
  return queryOptions({
    queryKey: keys.wall.firstRows(partId, sectionId, depth, FIRST),
    queryFn: () => ask(getWall({ path: { part_id: partId, section_id: sectionId }, query: { depth, first: FIRST } })),
    enabled: partId !== '' && sectionId !== '',
    refetchInterval: lookAgain,
  })
}

/** A section on a part: of a very large one the first students, and then everybody. */
export function useWall(partId: string, sectionId: string, depth: number) {
  const first = useQuery(wallOf(partId, sectionId, depth))
  const hasMore = first.data !== undefined && first.data.rows.length < first.data.of
  const whole = useQuery({
    queryKey: keys.wall.section(partId, sectionId, depth),
    queryFn: () => ask(getWall({ path: { part_id: partId, section_id: sectionId }, query: { depth } })),
    enabled: hasMore,
    refetchInterval: lookAgain,
  })
  return hasMore && (whole.data || whole.isError) ? { ...whole, isWhole: true } : { ...first, isWhole: !hasMore }
}
