import createClient from 'openapi-fetch'
import type { paths } from './schema'
import { newId } from '@/parts/id'

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

const client = createClient<paths>({ baseUrl: '/' })
client.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-Rook-Token', guard.token)
  },
})

/** Keys of requests that create and were not answered: sent again, they are the same request. */
const unanswered = new Map<string, string>()

type Post = (path: never, init?: Record<string, unknown>) => Promise<{ response: Response }>

/** POST with a key, so that what is sent again after a lost answer is done once. */
async function postOnce(path: never, init: Record<string, unknown> = {}) {
  const asked = JSON.stringify([path, init.params, init.body])
  const key = unanswered.get(asked) ?? newId()
  unanswered.set(asked, key)
  const headers = { ...(init.headers as object | undefined), 'Idempotency-Key': key }
  const answer = await (client.POST as Post)(path, { ...init, headers })
  if (answer.response.status < 500) unanswered.delete(asked)
  return answer
}

export const api = { ...client, POST: postOnce as unknown as typeof client.POST }

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
