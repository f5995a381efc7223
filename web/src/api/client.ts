import createClient from 'openapi-fetch'
import type { paths } from './schema'

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
}

/** The server could not be reached at all. */
export class Unreachable extends Error {
  constructor() {
    super('The server does not answer.')
  }
}

export const api = createClient<paths>({ baseUrl: '/' })

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
  throw new Problem(
    answer.response.status,
    said.type ?? 'unknown',
    said.detail ?? `The server answered ${answer.response.status}.`,
    said.errors,
    said.suggestion,
  )
}
