import createClient from 'openapi-fetch'
import { addressOf } from './base'
import type { paths } from './schema'
import { newId } from '@/api/id'

export interface FieldError {
  field: string
  value: string
  accepted: string
  message: string
}

/** What the server said was wrong, in its own words. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly kind: string,
    detail: string,
    readonly errors: FieldError[] = [],
    readonly suggestion: string | null = null,
  ) {
    super(detail)
  }

  /** Whether the same request may well be taken later: nothing is wrong with it. */
  get later(): boolean {
    return (
      this.status >= 500 ||
      this.status === 429 ||
      this.kind === 'sign-in-needed' ||
      this.kind === 'from-elsewhere'
    )
  }
}

/** The server could not be reached at all. */
export class Unreachable extends Error {
  constructor() {
    super('The server does not answer.')
  }
}

/** What goes with every request that writes, and who is told of refusals. */
interface Guard {
  token: string
  refused?: (problem: Problem) => void
}

export const guard: Guard = { token: '' }

const client = createClient<paths>({ baseUrl: addressOf('/') })

/** Keys of requests that create and were not answered: sent again, they are the same request. */
const unanswered = new Map<string, string>()

type Init = Record<string, unknown>
type Send = (path: never, init?: Init) => Promise<{ response: Response }>

const withHeader = (init: Init, more: Record<string, string>): Init => ({
  ...init,
  headers: { ...(init.headers as object | undefined), 'X-Rook-Token': guard.token, ...more },
})

/**
 * What writes, with the token of the page; what creates, with a key besides, so that what is sent
 * again after a lost answer is done once. Nothing is awaited before the request is on its way: the
 * page would draw itself first.
 */
function writing(send: unknown): never {
  return ((path: never, init: Init = {}) => (send as Send)(path, withHeader(init, {}))) as never
}

async function creating(path: never, init: Init = {}): Promise<{ response: Response }> {
  const asked = JSON.stringify([path, init.params, init.body])
  const key = unanswered.get(asked) ?? newId()
  unanswered.set(asked, key)
  const sent = (client.POST as Send)(path, withHeader(init, { 'Idempotency-Key': key }))
  const answer = await sent
  if (answer.response.status < 500) unanswered.delete(asked)
  return answer
}

export const api = {
  GET: client.GET,
  POST: creating as unknown as typeof client.POST,
  PUT: writing(client.PUT) as typeof client.PUT,
  PATCH: writing(client.PATCH) as typeof client.PATCH,
  DELETE: writing(client.DELETE) as typeof client.DELETE,
}

interface Answer<T> {
  data?: T
  error?: unknown
  response: Response
}

/** The answer's data, or a Problem or Unreachable thrown. */
export async function data<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await asked
  } catch {
    throw new Unreachable()
  }
  if (answer.data !== undefined) return answer.data
  const said = (answer.error ?? {}) as Partial<{
    type: string
    detail: string
    errors: FieldError[]
    suggestion: string | null
  }>
  if (answer.response.status >= 502 && !said.type) throw new Unreachable()
  const problem = new Problem(
    answer.response.status,
    said.type ?? 'unknown',
    said.detail ?? `The server answered ${answer.response.status}.`,
    said.errors,
    said.suggestion,
  )
  guard.refused?.(problem)
  throw problem
}
