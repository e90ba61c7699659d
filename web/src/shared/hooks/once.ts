import { useState } from 'react'
import { v7 } from 'uuid'

/**
 * Ids for acts that must not be done twice. While the same act is sent again, because its answer was
 * lost, it keeps its id, and the server answers what it answered; any other act gets a new one.
 */
export function onceIds(makeId: () => string = v7) {
  let open: { content: string; id: string } | null = null
  return async function once<T>(act: object, send: (id: string) => Promise<T>): Promise<T> {
    const content = JSON.stringify(act)
    if (open?.content !== content) open = { content, id: makeId() }
    const answer = await send(open.id)
    open = null
    return answer
  }
}

/** `once(act, send)` for a component: `send` is given the id of the act. */
export function useOnce(): ReturnType<typeof onceIds> {
  return useState(() => onceIds())[0]
}
