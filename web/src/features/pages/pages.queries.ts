import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { ask } from '../../api/ask'
import {
  arrangePages,
  cancelPages,
  deletePageSet,
  getPage,
  getPageSet,
  makePieceOfPages,
  mendPage,
  turnPage,
  type PageActIn,
  type PageSetOut,
  type PageWishIn,
} from '../../api/gen'
import { keys } from '../../api/keys'
import { useOnce } from '../../shared/hooks/once'
import { isBeingRead } from '../../shared/hooks/pageSets'

export function usePageSet(id: string) {
  return useQuery({
    queryKey: keys.pageSet(id),
    queryFn: () => ask(getPageSet({ path: { set_id: id } })),
    refetchInterval: (query) => (isBeingRead(query.state.data?.state) ? 800 : false),
  })
}

/** Acts on a whole set; each answer takes the place of what is shown. */
export function useSetActs(id: string) {
  const client = useQueryClient()
  const once = useOnce()
  const show = (set: PageSetOut) => {
    client.setQueryData(keys.pageSet(id), set)
    void client.invalidateQueries({ queryKey: keys.pageSets })
    void client.invalidateQueries({ queryKey: keys.pages })
  }
  const arrange = useMutation({
    mutationFn: (pages: PageWishIn[]) => ask(arrangePages({ path: { set_id: id }, body: { pages } })),
    onSuccess: show,
    onError: () => client.invalidateQueries({ queryKey: keys.pageSet(id) }),
  })
  const turn = useMutation({
    mutationFn: (pageId: string) => ask(turnPage({ path: { page_id: pageId } })),
    onSuccess: show,
  })
  const stop = useMutation({
    mutationFn: () => ask(cancelPages({ path: { set_id: id } })),
    onSuccess: show,
  })
  const remove = useMutation({
    mutationFn: () => ask(deletePageSet({ path: { set_id: id } })),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.pageSets }),
  })
  const make = useMutation({
    mutationFn: (wish: { title: string; composer: string; goal_bpm: number; marks: unknown }) =>
      once(wish, (actId) =>
        ask(
          makePieceOfPages({
            path: { set_id: id },
            body: { id: actId, title: wish.title, composer: wish.composer, goal_bpm: wish.goal_bpm },
          }),
        ),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.pieces })
      await client.invalidateQueries({ queryKey: keys.part.all })
      await client.invalidateQueries({ queryKey: keys.pageSet(id) })
      await client.invalidateQueries({ queryKey: keys.pageSets })
    },
  })
  return { arrange, turn, stop, remove, make }
}

export function usePage(id: string) {
  return useQuery({ queryKey: keys.page(id), queryFn: () => ask(getPage({ path: { page_id: id } })) })
}

/** Mend a page; every act moves the numbers after it, so the whole page comes back. */
export function useMend(pageId: string, setId: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (body: PageActIn) => ask(mendPage({ path: { page_id: pageId }, body })),
    onSuccess: (page) => {
      client.setQueryData(keys.page(pageId), page)
      void client.invalidateQueries({ queryKey: keys.pageSet(setId) })
    },
  })
}

export function pictureOf(pageId: string, turn: number, width: number): string {
  return `/api/pages/${pageId}/picture?width=${width}&turn=${turn}`
}
