import { reactive, ref } from 'vue'
import { api, data, Problem, Unreachable } from '@/api/client'
import type { BenchSheetOut, ReadingIn } from '@/api/schema'

/** A reading kept in the browser until the server confirms it. */
export interface Waiting {
  sheetId: number
  body: ReadingIn
  refused?: string
}

const KEY = 'maple-rook.waiting-readings'
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

/** Put a reading in the queue; it is on disk before this returns. */
export function enqueue(reading: Waiting): void {
  waiting.push(reading)
  keep()
}

export function remove(clientId: string): void {
  const at = waiting.findIndex((w) => w.body.client_id === clientId)
  if (at >= 0) waiting.splice(at, 1)
  keep()
}

/**
 * Send what waits, oldest first. The server keeps each client_id once, so sending again after an
 * outage never doubles a reading. A reading the server refuses stays, marked, until a person acts.
 */
export async function deliver(
  confirmed: (sheet: BenchSheetOut) => void,
  refused: (reading: Waiting, problem: Problem) => void,
): Promise<void> {
  if (sending) return
  sending = true
  clearTimeout(timer)
  try {
    for (let next = pending(); next; next = pending()) {
      try {
        const sheet = await data(
          api.POST('/api/bench/sheets/{sheet_id}/readings', {
            params: { path: { sheet_id: next.sheetId } },
            body: next.body,
          }),
        )
        offline.value = false
        remove(next.body.client_id)
        confirmed(sheet)
      } catch (error) {
        if (error instanceof Problem && error.status < 500) {
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
  return waiting.find((w) => !w.refused)
}
