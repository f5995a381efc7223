import { computed } from 'vue'
import { newId } from '@/api/id'
import type { AspectChoice, ObservationOut } from '@/api/schema'
import { enqueue, remove, waiting, type Waiting } from './queue'
import type { BenchState } from './state'

/** What the sheet holds, what waits in this browser to be stored, and what is added to either. */
export function useRecord(state: BenchState, send: () => void) {
  const { sheetId, sheet, question, photoId } = state
  /** Readings taken and struck out here, which the sheet may not show yet. */
  const taken: { id: string; key: string }[] = []
  const struck = new Set<string>()

  const mine = computed(() => waiting.filter((w) => w.sheetId === sheetId))
  /** What the server refused for good; kept until corrected or discarded by hand. */
  const stuck = computed(() =>
    mine.value.filter(
      (w) => w.refused && !(question.value?.kind === 'unusual' && question.value.entry === w),
    ),
  )
  const answered = computed(
    () =>
      new Set([
        ...Object.keys(sheet.value?.figures ?? {}),
        ...(sheet.value?.observations ?? []).map((o) => o.item),
        ...mine.value.filter((w) => w.what !== 'void').map((w) => w.key),
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
    note: string,
    aspect: AspectChoice['key'] = '',
  ): void {
    const id = newId()
    put({
      what: 'observation',
      sheetId,
      id,
      key: what,
      words: [value.replaceAll('_', ' '), note].filter(Boolean).join(', '),
      body: {
        client_id: id,
        item: what,
        aspect,
        value,
        note,
        replaces: standing(what, aspect),
        photo_id: photoId.value,
        taken_at: new Date().toISOString(),
      },
    })
    photoId.value = null
  }

  /** The id of what stands at an item now, counting what still waits here. */
  function standing(what: string, aspect: string): string | null {
    const queued = mine.value
      .filter((w) => w.what === 'observation' && w.body.item === what && w.body.aspect === aspect)
      .at(-1)
    const check = sheet.value?.checks.find((c) => `check.${c.key}` === what)
    return queued?.id ?? seen(what, aspect)?.client_id ?? check?.decision ?? null
  }

  function seen(what: string, aspect = ''): ObservationOut | undefined {
    return sheet.value?.observations.find((o) => o.item === what && o.aspect === aspect)
  }

  /** Enter a refused observation once more, over what somebody else entered meanwhile. */
  function replaceStanding(entry: Waiting): void {
    if (entry.what !== 'observation') return
    const id = newId()
    remove(entry.id)
    const replaces = standing(entry.body.item, entry.body.aspect ?? '')
    put({
      ...entry,
      id,
      refused: undefined,
      body: { ...entry.body, client_id: id, replaces },
    })
  }

  /** Void a reading; it stays in the history. */
  function strike(clientId: string, of: string, reason: string): void {
    const id = `void:${clientId}`
    put({ what: 'void', sheetId, id, key: of, words: reason, body: { reason } })
    struck.add(clientId)
    question.value = null
    state.said.value = 'reading voided; it stays in the history'
    state.focus()
  }

  /** The last reading that counts: of a quantity, or of any where that has none. */
  function lastReading(of: string): { id: string; key: string } | undefined {
    const known = sheet.value?.readings ?? []
    const rows = [
      ...known.filter((r) => !r.voided).map((r) => ({ id: r.client_id, key: r.quantity })),
      ...taken.filter((t) => !known.some((r) => r.client_id === t.id)),
    ].filter((r) => !struck.has(r.id) && !stuck.value.some((w) => w.id === r.id))
    return rows.filter((r) => r.key === of).at(-1) ?? rows.at(-1)
  }

  // prettier-ignore
  return {
    mine, stuck, answered, taken, put, observe, seen, replaceStanding, strike, lastReading,
  }
}

export type SheetRecord = ReturnType<typeof useRecord>
