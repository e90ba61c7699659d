import { useMutation, useQueryClient } from '@tanstack/react-query'
import { App } from 'antd'
import { ApiError, ask, said } from '../../api/ask'
import { editChunks, type EditChunksData, type MapOut } from '../../api/gen'
import { partKeys } from '../../shared/lib/part.queries'

type Edit = EditChunksData['body']
/** An edit without the version, which is filled in from the map at hand. */
export type Wish = Edit extends infer E ? (E extends { version: number } ? Omit<E, 'version'> : never) : never

/** Send one edit after another; a refusal is said and the map stays as it is. */
export function useChunkEdits(partId: string) {
  const client = useQueryClient()
  const { message } = App.useApp()
  const key = partKeys.chunks(partId)
  const edit = useMutation({
    scope: { id: `chunks ${partId}` },
    mutationFn: (wish: Wish) => {
      const version = client.getQueryData<MapOut>(key)?.version ?? 0
      return ask(editChunks({ path: { part_id: partId }, body: { ...wish, version } }))
    },
    onSuccess: (map) => client.setQueryData(key, map),
    onError: (error) => {
      void message.warning(said(error))
      if (error instanceof ApiError && error.status === 409) void client.invalidateQueries({ queryKey: key })
    },
  })
  return { apply: (wish: Wish) => edit.mutate(wish), isBusy: edit.isPending }
}
