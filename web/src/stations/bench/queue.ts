import { reactive, ref } from 'vue'
import { api, data, Problem, Unreachable } from '@/api/client'
import { me } from '@/api/session'
import { stored } from '@/parts/stored'
import type { ObservationIn, ReadingIn, StoredOut } from '@/api/schema'

interface Kept {
  sheetId: number
  /** The id made here that makes sending it twice harmless. */
  id: string
  /** Quantity or item, and what a person calls what is kept. */
  key: string
  words: string
  /** Whose it is: nobody else's sign-in sends it. */
  by?: number
  /** Why the server would not take it, and what it would take. */
  refused?: string
  suggestion?: string
  /** It is only unusual: a person may keep it. */
  unusual?: boolean
}

/** Something the person did at the Bench, kept in the browser until the server confirms it. */
export type Waiting = Kept &
  (
    | { what: 'reading'; body: ReadingIn }
    | { what: 'observation'; body: ObservationIn }
    | { what: 'void'; body: { reason: string } }
    | { what: 'restore' }
  )

const KEY = 'maple-rook.waiting'
const RETRY_MS = 1500
/** A server that has not answered by then is told as one that does not. */
const ANSWER_MS = 5000

export const waiting = reactive<Waiting[]>(stored<Waiting[]>(KEY, []))
/** Since when the server has not answered. */
export const offline = ref<Date | null>(null)

let sending = false
let timer: ReturnType<typeof setTimeout> | undefined

function keep(): void {
  localStorage.setItem(KEY, JSON.stringify(waiting))
}

/** Put something in the queue; it is on disk before this returns. */
export function enqueue(entry: Waiting): void {
  waiting.push({ ...entry, by: me.value?.id })
  keep()
}

export function remove(id: string): void {
  const at = waiting.findIndex((w) => w.id === id)
  if (at >= 0) waiting.splice(at, 1)
  keep()
}

/** The answer to what was sent, or Unreachable where the server hangs. */
async function answered(entry: Waiting): Promise<StoredOut> {
  const gone = new AbortController()
  let limit: ReturnType<typeof setTimeout> | undefined
  const late = new Promise<never>((_, reject) => {
    limit = setTimeout(() => {
      reject(new Unreachable())
      gone.abort()
    }, ANSWER_MS)
  })
  try {
    return await Promise.race([send(entry, gone.signal), late])
  } finally {
    clearTimeout(limit)
  }
}

function send(entry: Waiting, signal: AbortSignal): Promise<StoredOut> {
  const sheet = { params: { path: { sheet_id: entry.sheetId } }, signal }
  switch (entry.what) {
    case 'reading':
      return data(api.POST('/api/bench/sheets/{sheet_id}/readings', { ...sheet, body: entry.body }))
    case 'observation':
      return data(
        api.POST('/api/bench/sheets/{sheet_id}/observations', { ...sheet, body: entry.body }),
      )
    case 'void':
      return data(
        api.POST('/api/bench/readings/{client_id}/void', {
          params: { path: { client_id: entry.id.replace('void:', '') } },
          body: entry.body,
          signal,
        }),
      )
    case 'restore':
      return data(
        api.POST('/api/bench/readings/{client_id}/restore', {
          params: { path: { client_id: entry.id.replace('restore:', '') } },
          signal,
        }),
      )
  }
}

/**
 * Send what waits, oldest first. The server keeps each id once, so sending again after an outage
 * never doubles anything. What the server refuses stays, marked, until a person acts.
 */
export async function deliver(
  confirmed: (entry: Waiting, stored: StoredOut) => void,
  refused: (entry: Waiting, problem: Problem) => void,
): Promise<void> {
  if (sending) return
  sending = true
  clearTimeout(timer)
  try {
    for (let next = pending(); next; next = pending()) {
      try {
        const answer = await answered(next)
        offline.value = null
        remove(next.id)
        confirmed(next, answer)
      } catch (error) {
        if (error instanceof Problem && !error.later) {
          offline.value = null
          next.refused = error.message
          next.suggestion = error.suggestion ?? ''
          next.unusual = error.kind === 'unusual-value'
          keep()
          refused(next, error)
        } else {
          offline.value ??= new Date()
          timer = setTimeout(() => void deliver(confirmed, refused), RETRY_MS)
          if (!(error instanceof Unreachable || error instanceof Problem)) throw error
          return
        }
      }
    }
  } finally {
    sending = false
  }
}

function pending(): Waiting | undefined {
  return waiting.find((w) => !w.refused && (w.by === undefined || w.by === me.value?.id))
}
