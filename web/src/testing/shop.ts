/** A shop that answers from memory: what it is asked for is kept, what it answers is set. */

export interface Asked {
  method: string
  path: string
  query: URLSearchParams
  headers: Headers
  body: unknown
}

interface Answer {
  status?: number
  body?: unknown
}
/** An answer, none at all, one that is lost after the request was taken, or one of the test's. */
export type Reply = Answer | 'unreachable' | ((asked: Asked) => Answer | Promise<Answer>)

class Shop {
  asked: Asked[] = []
  private replies: { method: string; path: string; reply: Reply }[] = []

  reset(): void {
    this.asked = []
    this.replies = []
  }

  /** From now on this is the answer; the path may end in `*`. */
  when(method: string, path: string, reply: Reply): void {
    this.replies.unshift({ method, path, reply })
  }

  /** What was asked for so, in order. */
  of(method: string, path: string): Asked[] {
    return this.asked.filter((a) => a.method === method && fits(path, a.path))
  }

  bodies(method: string, path: string): Record<string, unknown>[] {
    return this.of(method, path).map((a) => a.body as Record<string, unknown>)
  }

  async answer(request: Request): Promise<Response> {
    const url = new URL(request.url)
    const text = await request.text()
    const asked: Asked = {
      method: request.method,
      path: url.pathname,
      query: url.searchParams,
      headers: request.headers,
      body: text ? parsed(text) : undefined,
    }
    this.asked.push(asked)
    const found = this.replies.find((r) => r.method === asked.method && fits(r.path, asked.path))
    if (!found) throw new Error(`the test's shop has no answer to ${asked.method} ${asked.path}`)
    if (found.reply === 'unreachable') throw new TypeError('Failed to fetch')
    const { status = 200, body } =
      typeof found.reply === 'function' ? await found.reply(asked) : found.reply
    return new Response(body === undefined ? null : JSON.stringify(body), {
      status,
      headers: { 'Content-Type': 'application/json' },
    })
  }
}

function fits(pattern: string, path: string): boolean {
  return pattern.endsWith('*') ? path.startsWith(pattern.slice(0, -1)) : pattern === path
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return text
  }
}

export const shop = new Shop()

/** A refusal as the API words it. */
export function refusal(status: number, type: string, detail: string, suggestion?: string): Answer {
  return { status, body: { type, detail, errors: [], suggestion: suggestion ?? null } }
}
