/** A refusal of the server in its own plain words. */
export class ApiError extends Error {
  readonly status: number
  constructor(status: number, detail: string) {
    super(detail)
    this.name = 'ApiError'
    this.status = status
  }
}

interface Answer<T> {
  data?: T
  error?: unknown
  response?: Response
}

/** The data of a call, or an ApiError with what the server said. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await call
  if (response === undefined) {
    throw new ApiError(0, 'The server cannot be reached. Check the network and try again.')
  }
  if (!response.ok) {
    throw new ApiError(response.status, detailOf(error))
  }
  return data as T
}

function detailOf(error: unknown): string {
  if (typeof error === 'object' && error !== null && 'detail' in error && typeof error.detail === 'string') {
    return error.detail
  }
  return 'The server had a fault. Nothing was lost; try again in a moment.'
}

export function said(error: unknown): string {
  return error instanceof Error ? error.message : 'Something went wrong.'
}
