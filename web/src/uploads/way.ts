import type { DetailedError } from 'tus-js-client'
import { Refusal, type Problem } from '../api/client'

/** How long an upload waits before each new try, in milliseconds. */
export const pauses = [0, 500, 1000, 2000, 4000, 8000, 15_000, 30_000, 60_000]

/** How many files come in at the same time. */
export const atOnce = 3

/** How long, in milliseconds, those after it wait for a file that has begun to come: their numbers are to follow the order. */
export const patience = 5000

/** Refusals are final, a lack of room among them; a lost connection, a restart or a lock is not. After signing in again it goes on, too. */
export function isPassing(error: DetailedError): boolean {
  if (isUnreadable(error) || error.causingError instanceof Refusal) return false
  const status = error.originalResponse?.getStatus() ?? 0
  return status === 0 || status === 401 || status === 409 || status === 423 || (status >= 500 && status !== 507)
}

/** The file itself cannot be read any more: it was changed, moved or deleted meanwhile. */
const isUnreadable = (error: Error & { causingError?: Error | null }): boolean =>
  [error.name, error.causingError?.name].includes('NotReadableError')

/** What the server said when it refused. */
export function refusalIn(error: Error): Refusal {
  const cause = (error as Partial<DetailedError>).causingError
  if (error instanceof Refusal) return error
  if (cause instanceof Refusal) return cause
  if (isUnreadable(error)) return new Refusal({ type: '/problems/file-unreadable', title: 'unreadable', status: 0 })
  const response = (error as { originalResponse?: { getBody(): string } | null }).originalResponse
  try {
    return new Refusal(JSON.parse(response?.getBody() ?? '') as Problem)
  } catch {
    return new Refusal({ type: '/problems/offline', title: 'offline', status: 0 })
  }
}
