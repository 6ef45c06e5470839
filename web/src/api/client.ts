import createClient from 'openapi-fetch'
import type { paths } from './generated/schema'

/** An answer that says what went wrong, in words for people. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly body?: unknown,
  ) {
    super(message)
  }
}

export function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? ''
}

export const client = createClient<paths>({ baseUrl: '/', credentials: 'same-origin' })
client.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrfToken())
    return request
  },
})

/** The data of an answer, or a `Refused` with the server's words. */
export async function answered<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got
  try {
    got = await answer
  } catch {
    throw silent()
  }
  if (got.response.ok) return got.data as T
  throw new Refused(wordsOf(got.error, got.response.status), got.response.status, got.error)
}

/** POST that answers with bytes. */
export async function postForBytes(path: string, body: unknown, signal?: AbortSignal): Promise<ArrayBuffer> {
  return (await post(path, body, signal)).arrayBuffer()
}

/** POST that is on its way when this returns: `client` looks at a request first, and what was changed is drawn meanwhile. */
export async function postAtOnce<T>(path: string, body: unknown): Promise<T> {
  return (await post(path, body)).json() as Promise<T>
}

async function post(path: string, body: unknown, signal?: AbortSignal): Promise<Response> {
  const response = await fetch(path, {
    method: 'POST',
    credentials: 'same-origin',
    headers: { 'Content-Type': 'application/json', 'X-CSRFToken': csrfToken() },
    body: JSON.stringify(body),
    signal,
  }).catch((error: unknown) => {
    throw signal?.aborted ? error : silent()
  })
  if (response.ok) return response
  throw new Refused(wordsOf(await response.json().catch(() => null), response.status), response.status)
}

const silent = () => new Refused('The server does not answer. Your last change is still here; it is tried again.', 0)

export function wordsOf(body: unknown, status: number): string {
  if (body && typeof body === 'object' && 'detail' in body && typeof body.detail === 'string') return body.detail
  if (status === 401 || status === 403) return 'Your session has ended. Sign in again.'
  if (status === 404) return 'That is not there, or not yours.'
  return `The server could not do that (${status}). It is in its log.`
}
