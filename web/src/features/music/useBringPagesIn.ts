import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { v7 } from 'uuid'
import { ApiError, ask } from '../../api/ask'
import { bringPagesIn, type PageSetOut } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'

const LARGEST_MB = 60

/** Send files of pages; the answer is the set that they are now. */
export function useBringPagesIn(then: (set: PageSetOut) => void) {
  const client = useQueryClient()
  const [id, setId] = useState(() => v7())
  return useMutation({
    mutationFn: (files: File[]) => {
      if (files.reduce((sum, file) => sum + file.size, 0) > LARGEST_MB * 1_000_000) {
        throw new ApiError(413, t('music.pagesTooLarge', { largest: LARGEST_MB }))
      }
      return ask(bringPagesIn({ body: { id, files } }))
    },
    onSuccess: async (set) => {
      setId(v7())
      await client.invalidateQueries({ queryKey: keys.pageSets })
      then(set)
    },
  })
}
