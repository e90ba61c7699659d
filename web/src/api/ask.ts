import { t } from '../words/words'
/** A refusal of the server in its own plain words. */
export class ApiError extends Error {
  readonly status: number
  /** Names of drills that fit where the one asked for does not. */
  readonly instead: string[]
  /** Seconds after which the server asks to be asked again. */
  readonly retryAfter: number | null
  constructor(status: number, detail: string, instead: string[] = [], retryAfter: number | null = null) {
    super(detail)
    this.name = 'ApiError'
    this.status = status
    this.instead = instead
    this.retryAfter = retryAfter
  }

  /** Whether the same may go well in a moment: no network, or a server that is busy or starting. */
  get isPassing(): boolean {
    return this.status === 0 || [429, 502, 503, 504].includes(this.status)
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
    throw new ApiError(0, t('app.theServerCannotBeReachedCheck'))
  }
  if (!response.ok) {
    throw new ApiError(response.status, detailOf(error), insteadOf(error), secondsOf(response))
  }
  return data as T
}

function secondsOf(response: Response): number | null {
  const seconds = Number(response.headers.get('Retry-After') ?? 'none')
  return Number.isFinite(seconds) && seconds >= 0 ? seconds : null
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
  return t('app.theServerHadAFaultNothing')
}

export function said(error: unknown): string {
  return error instanceof Error ? error.message : t('app.somethingWentWrong')
}
