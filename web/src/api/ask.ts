/** A refusal of the server in its own plain words. */
export class ApiError extends Error {
  readonly status: number
  /** Names of drills that fit where the one asked for does not. */
  readonly instead: string[]
  constructor(status: number, detail: string, instead: string[] = []) {
    super(detail)
    this.name = 'ApiError'
    this.status = status
    this.instead = instead
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
    throw new ApiError(response.status, detailOf(error), insteadOf(error))
  }
  return data as T
}

function insteadOf(error: unknown): string[] {
  if (typeof error === 'object' && error !== null && 'instead' in error && Array.isArray(error.instead)) {
    return error.instead.filter((name): name is string => typeof name === 'string')
  }
  return []
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
