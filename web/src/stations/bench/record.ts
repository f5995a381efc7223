import { computed, ref } from 'vue'
import { newId } from '@/api/id'
import type { AspectChoice, ObservationOut } from '@/api/schema'
import { enqueue, remove, waiting, type Waiting } from './queue'
import type { BenchState } from './state'

/** What the sheet holds, what waits in this browser to be stored, and what is added to either. */
export function useRecord(state: BenchState, send: () => void) {
  const { sheetId, sheet, question, photoId, note } = state
  /** Readings taken and struck out here, which the sheet may not show yet. */
  const taken: { id: string; key: string; typed: string }[] = []
  const struck = new Set<string>()
  /** What was voided here and can be taken back, the last first. */
  const undoable = ref<{ id: string; words: string }[]>([])
  /** What was seen and stored from here, with the record's number once it is known. */
  const own = new Map<string, { id: string; row: number }>()

  const mine = computed(() => waiting.filter((w) => w.sheetId === sheetId))
  /** What the server refused for good; kept until corrected or discarded by hand. */
  const stuck = computed(() => mine.value.filter((w) => w.refused))
  const answered = computed(
    () =>
      new Set([
        ...Object.keys(sheet.value?.figures ?? {}),
        ...(sheet.value?.observations ?? []).map((o) => o.item),
        ...mine.value
          .filter((w) => w.what === 'reading' || w.what === 'observation')
          .map((w) => w.key),
        ...(sheet.value?.claims.length ? ['claims_copied'] : []),
      ]),
  )

  function put(entry: Waiting): void {
    enqueue(entry)
    send()
  }

  /** Store what was seen of an item, over what stands there now. */
  function observe(
    what: string,
    value: string,
    remark: string,
    aspect: AspectChoice['key'] = '',
  ): void {
    const id = newId()
    const replaces = standing(what, aspect)
    for (const w of stuck.value)
      if (w.what === 'observation' && w.key === what && w.body.aspect === aspect) remove(w.id)
    own.set(`${what} ${aspect}`, { id, row: 0 })
    put({
      what: 'observation',
      sheetId,
      id,
      key: what,
      words: [value.replaceAll('_', ' '), remark].filter(Boolean).join(', '),
      body: {
        client_id: id,
        item: what,
        aspect,
        value,
        note: remark,
        replaces,
        photo_id: takePhoto(),
        taken_at: new Date().toISOString(),
      },
    })
  }

  /** The photo that was waiting for the next entry; it goes with one only. */
  function takePhoto(): number | null {
    const id = photoId.value
    photoId.value = null
    return id
  }

  /** The note that was written for the next entry. */
  function takeNote(): string {
    const written = note.value?.trim() ?? ''
    note.value = null
    return written
  }

  /** The id of what stands at an item now, counting what still waits here. */
  function standing(what: string, aspect: string): string | null {
    const queued = mine.value
      .filter((w) => w.what === 'observation' && w.body.item === what && w.body.aspect === aspect)
      .at(-1)
    const check = sheet.value?.checks.find((c) => `check.${c.key}` === what)
    // What was refused stands nowhere: an answer in its place still meets what it met.
    if (queued?.what === 'observation' && queued.refused) return queued.body.replaces ?? null
    if (queued) return queued.id
    const shown = seen(what, aspect)
    const last = own.get(`${what} ${aspect}`)
    if (last?.row && last.row > (shown?.id ?? 0)) return last.id
    return shown?.client_id ?? check?.decision ?? null
  }

  /** The server has it: what was seen from here stands until the sheet shows something newer. */
  function confirmed(entry: Waiting, row: number): void {
    if (entry.what !== 'observation') return
    const last = own.get(`${entry.body.item} ${entry.body.aspect ?? ''}`)
    if (last?.id === entry.id) last.row = row
  }

  function seen(what: string, aspect = ''): ObservationOut | undefined {
    return sheet.value?.observations.find((o) => o.item === what && o.aspect === aspect)
  }

  /** Enter a refused observation once more, over what somebody else entered meanwhile. */
  function replaceStanding(entry: Waiting): void {
    if (entry.what !== 'observation') return
    const id = newId()
    remove(entry.id)
    const { item, aspect = '' } = entry.body
    const replaces = standing(item, aspect)
    own.set(`${item} ${aspect}`, { id, row: 0 })
    put({
      ...entry,
      id,
      refused: undefined,
      body: { ...entry.body, client_id: id, replaces },
    })
  }

  /** A refused reading once more, as a person wants it kept. */
  function resend(refusal: Waiting, typed: string): void {
    if (refusal.what !== 'reading') return
    remove(refusal.id)
    const body = { ...refusal.body, typed, confirmed: true }
    put({ ...refusal, refused: undefined, suggestion: '', unusual: false, words: typed, body })
  }

  /** Void a reading; it stays in the history, and the void can be taken back. */
  function strike(clientId: string, of: string, reason: string): void {
    const id = `void:${clientId}`
    put({ what: 'void', sheetId, id, key: of, words: reason, body: { reason } })
    struck.add(clientId)
    question.value = null
    const typed =
      sheet.value?.readings.find((r) => r.client_id === clientId)?.typed ??
      taken.find((t) => t.id === clientId)?.typed
    const words = [state.quantities.value.get(of)?.label ?? of, typed].filter(Boolean).join(' ')
    undoable.value.push({ id: clientId, words })
    state.said.value = `${words} voided; it stays in the history`
    state.focus()
  }

  /** Take the last void back: the reading counts again, beside its voided line. */
  function undo(): void {
    const last = undoable.value.pop()
    if (!last) {
      state.said.value = 'nothing was voided here'
      return
    }
    put({ what: 'restore', sheetId, id: `restore:${last.id}`, key: '', words: last.words })
    state.said.value = `${last.words} counts again`
    state.focus()
  }

  /** The last reading of a quantity that counts. */
  function lastReading(of: string): { id: string; key: string } | undefined {
    const known = sheet.value?.readings ?? []
    return [
      ...known.filter((r) => !r.voided).map((r) => ({ id: r.client_id, key: r.quantity })),
      ...taken.filter((t) => !known.some((r) => r.client_id === t.id)),
    ]
      .filter((r) => r.key === of && !struck.has(r.id))
      .filter((r) => !stuck.value.some((w) => w.id === r.id))
      .at(-1)
  }

  // prettier-ignore
  return {
    mine, stuck, answered, taken, undoable, put, resend, confirmed, observe, seen, replaceStanding, strike,
    undo, lastReading, takeNote, takePhoto,
  }
}

export type SheetRecord = ReturnType<typeof useRecord>
