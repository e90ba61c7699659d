import { createContext, useContext } from 'react'
import type { Me } from '../../api/gen'

const Rights = createContext<readonly Me['rights'][number][]>([])

/** What the signed-in person may do, for everything inside. */
export const WithRights = Rights.Provider

export function useMay(right: Me['rights'][number]): boolean {
  return useContext(Rights).includes(right)
}
