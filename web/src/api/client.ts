import createClient, { type Middleware } from 'openapi-fetch'
import type { components, paths } from './schema.gen'

export type Schemas = components['schemas']
export type Problem = Schemas['Problem']

/** A refusal by the server, with its problem details (RFC 9457). */
export class Refusal extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail ?? problem.title)
  }

  /** The stable code by which words are found. */
  get code(): string {
    return this.problem.type.replace('/problems/', '')
  }
}

/** Reads problem details; what is not one is our failure or the network's. */
export async function refusalOf(response: Response): Promise<Refusal> {
  try {
    return new Refusal((await response.clone().json()) as Problem)
  } catch {
    return new Refusal({ type: '/problems/internal', title: 'internal', status: response.status })
  }
}

/** Sends a file as it is; answers what was said, or throws the refusal. */
export async function sendFile<T>(address: string, file: Blob, type?: string): Promise<T> {
  const answer = await fetch(address, { method: 'POST', body: file, headers: type ? { 'Content-Type': type } : {} }).catch(() => {
    throw offline()
  })
  if (!answer.ok) throw await refusalOf(answer)
  return (await answer.json()) as T
}

const offline = () => new Refusal({ type: '/problems/offline', title: 'offline', status: 0 })

const signedOutListeners = new Set<() => void>()

/** Calls fn whenever the server says that the session has ended. */
export function onSignedOut(fn: () => void): void {
  signedOutListeners.add(fn)
}

/** Sentences that the server writes come in the language of the page. */
const language: Middleware = {
  onRequest({ request }) {
    request.headers.set('Accept-Language', document.documentElement.lang || 'en')
  },
}

const refusals: Middleware = {
  async onResponse({ response }) {
    if (response.ok) return undefined
    const refusal = await refusalOf(response)
    if (refusal.code === 'signed-out') signedOutListeners.forEach((fn) => fn())
    throw refusal
  },
  onError() {
    return offline()
  },
}

export const api = createClient<paths>({ baseUrl: '/api' })
api.use(language, refusals)

/** The data of an answer; refusals are thrown before this. */
export async function data<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T
}
