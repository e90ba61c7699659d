import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App } from 'antd'
import { ApiError, ask, said } from '../../api/ask'
import { chunkOfDifference, editChunks, makeOwnMap, type EditChunksData, type MapOut } from '../../api/gen'
import { keys } from '../../api/keys'

type Edit = EditChunksData['body']
/** An edit without the version, which is filled in from the map at hand. */
export type Wish = Edit extends infer E ? (E extends { version: number } ? Omit<E, 'version'> : never) : never

/** Send one edit after another; a refusal is said and the map stays as it is. */
export function useChunkEdits(partId: string, sectionId: string) {
  const client = useQueryClient()
  const { message } = App.useApp()
  const key = keys.part.chunks(partId, sectionId)
  const version = () => client.getQueryData<MapOut>(key)?.version ?? 0
  const after = {
    scope: { id: `chunks ${partId}` },
    onSuccess: (map: MapOut) => client.setQueryData(key, map),
    onError: (error: Error) => {
      void message.warning(said(error))
      if (error instanceof ApiError && error.status === 409) void client.invalidateQueries({ queryKey: key })
    },
  }
  const edit = useMutation({
    ...after,
    mutationFn: (wish: Wish) =>
      ask(
        editChunks({
          path: { part_id: partId },
          query: sectionId ? { section_id: sectionId } : {},
          body: { ...wish, version: version() },
        }),
      ),
  })
  const difference = useMutation({
    ...after,
    mutationFn: (kinId: string) => ask(chunkOfDifference({ path: { kin_id: kinId }, body: { version: version() } })),
  })
  const own = useMutation({
    ...after,
    mutationFn: (section: string) => ask(makeOwnMap({ path: { part_id: partId, section_id: section } })),
    onSuccess: (map: MapOut, section) => client.setQueryData(keys.part.chunks(partId, section), map),
  })
  return {
    apply: (wish: Wish) => edit.mutate(wish),
    cutDifference: (kinId: string) => difference.mutate(kinId),
    giveOwn: (section: string) => own.mutateAsync(section),
    isBusy: edit.isPending,
  }
}
