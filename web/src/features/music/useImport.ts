import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { ApiError, ask } from '../../api/ask'
import { cancelImport, getImport, startImport, type JobState } from '../../api/gen'
import { keys } from '../../api/keys'
import { t } from '../../words/words'

interface Wish {
  file: File
  /** The piece this is a new version of. */
  replaces?: string
}

const LARGEST_MB = 40

/** The server hangs up on what is larger, which a browser can only tell as a broken connection. */
async function sendFile({ file, replaces }: Wish) {
  if (file.size > LARGEST_MB * 1_000_000) {
    throw new ApiError(413, t('music.thisFileIsLargerThanMb', { largest: LARGEST_MB }))
  }
  return ask(startImport({ body: { file, ...(replaces ? { replaces } : {}) } }))
}

/** Send a file, follow how far its reading is, and show the piece when it is there. */
export function useImport() {
  const client = useQueryClient()
  const [id, setId] = useState('')
  const send = useMutation({
    mutationFn: sendFile,
    onMutate: () => setId(''),
    onSuccess: (job) => setId(job.id),
  })
  const job = useQuery({
    queryKey: keys.importJob(id),
    enabled: id !== '',
    queryFn: () => ask(getImport({ path: { import_id: id } })),
    refetchInterval: (query) => (hasEnded(query.state.data?.state) ? false : 400),
  })
  const state = job.data?.state
  useEffect(() => {
    if (state === 'done') void client.invalidateQueries({ queryKey: keys.pieces })
  }, [state, client])
  const stop = useMutation({
    mutationFn: () => ask(cancelImport({ path: { import_id: id } })),
    onSettled: () => client.invalidateQueries({ queryKey: keys.importJob(id) }),
  })
  const isRunning = send.isPending || (id !== '' && !hasEnded(state) && !job.isError)
  return {
    send: send.mutate,
    stop: () => stop.mutate(),
    refusal: send.error ?? job.error,
    job: job.data,
    isRunning,
    forget: () => setId(''),
  }
}

function hasEnded(state: JobState | undefined): boolean {
  return state === 'done' || state === 'failed' || state === 'cancelled'
}
