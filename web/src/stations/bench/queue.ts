import { reactive, ref } from 'vue'
import { api, data, Problem, Unreachable } from '@/api/client'
import { me } from '@/api/session'
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
  refused?: string
}

/** Something the person did at the Bench, kept in the browser until the server confirms it. */
export type Waiting = Kept &
  (
    | { what: 'reading'; body: ReadingIn }
    | { what: 'observation'; body: ObservationIn }
    | { what: 'void'; body: { reason: string } }
  )

const KEY = 'maple-rook.waiting'
const RETRY_MS = 1500

function kept(): Waiting[] {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '[]') as Waiting[]
  } catch {
    return []
  }
}

export const waiting = reactive<Waiting[]>(kept())
export const offline = ref(false)

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

function send(entry: Waiting): Promise<StoredOut> {
  const sheet = { params: { path: { sheet_id: entry.sheetId } } }
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
        }),
      )
  }
}

/**
 * Send what waits, oldest first. The server keeps each id once, so sending again after an outage
 * never doubles anything. What the server refuses stays, marked, until a person acts.
 */
export async function deliver(
  confirmed: (sheetId: number) => void,
  refused: (entry: Waiting, problem: Problem) => void,
): Promise<void> {
  if (sending) return
  sending = true
  clearTimeout(timer)
  try {
    for (let next = pending(); next; next = pending()) {
      try {
        const stored = await send(next)
        offline.value = false
        remove(next.id)
        confirmed(stored.sheet_id)
      } catch (error) {
        if (error instanceof Problem && !error.later) {
          offline.value = false
          next.refused = error.message
          keep()
          refused(next, error)
        } else {
          offline.value = true
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
