import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data, type Problem } from '@/api/client'
import type { AskedOut, BenchEvent, CheckOut, ObservationOut, ReadingOut } from '@/api/schema'
import { understood } from './choices'
import { useInstruments } from './instruments'
import { deliver, enqueue, remove, waiting, type Waiting } from './queue'
import { newId } from '@/parts/id'

/** Something the Bench asks back before it goes on. */
export type Question =
  | { kind: 'unusual'; entry: Waiting; message: string; suggestion: string | null; never: boolean }
  | { kind: 'not-applicable' }
  | { kind: 'void'; reading: ReadingOut }
  | { kind: 'check'; check: CheckOut }

const SHORT = 'maple-rook.short-sheet'
const CHOSEN = 'maple-rook.instruments'
const REFETCH_MS = 40

/** One sheet at the bench: where the person is, what waits to be stored, what is asked back. */
export function useBench(sheetId: number, focus: () => void) {
  const client = useQueryClient()
  const { catalogue, quantities, items } = useCatalogue()
  const key = ['bench-sheet', sheetId]
  const query = useQuery({
    queryKey: key,
    queryFn: () =>
      data(api.GET('/api/bench/sheets/{sheet_id}', { params: { path: { sheet_id: sheetId } } })),
  })
  const sheet = query.data

  const DRAFT = `maple-rook.draft.${sheetId}`
  const draft = JSON.parse(localStorage.getItem(DRAFT) ?? '{}') as { at?: string; text?: string }
  const at = ref<string>(draft.at ?? '')
  const text = ref(draft.text ?? '')
  const unit = ref('')
  const short = ref(localStorage.getItem(SHORT) === 'yes')
  const question = ref<Question | null>(null)
  /** Where the person was, and what was half typed, when the server asked back. */
  const interrupted = ref<{ at: string; text: string } | null>(null)
  const fault = ref('')
  const said = ref('')
  const place = ref({ above: '', along: '' })
  const photoId = ref<number | null>(null)
  /** Readings taken and struck out here, which the sheet may not show yet. */
  const taken: { id: string; key: string }[] = []
  const struck = new Set<string>()

  const order = computed<AskedOut[]>(() => sheet.value?.questions ?? [])
  const asked = computed(() => order.value.find((q) => q.key === at.value) ?? order.value[0])
  const quantity = computed(() => quantities.value.get(asked.value?.key ?? ''))
  const item = computed(() => items.value.get(asked.value?.key ?? ''))
  const mine = computed(() => waiting.filter((w) => w.sheetId === sheetId))
  /** What the server refused for good; kept until corrected or discarded by hand. */
  const stuck = computed(() =>
    mine.value.filter(
      (w) => w.refused && !(question.value?.kind === 'unusual' && question.value.entry === w),
    ),
  )
  const signedOff = computed(() => Boolean(sheet.value?.finished_at))
  const answered = computed(
    () =>
      new Set([
        ...Object.keys(sheet.value?.figures ?? {}),
        ...(sheet.value?.observations ?? []).map((o) => o.item),
        ...mine.value.filter((w) => w.what !== 'void').map((w) => w.key),
        ...(sheet.value?.claims.length ? ['claims_copied'] : []),
      ]),
  )
  const missing = computed(() =>
    order.value.filter((q) => q.required && !answered.value.has(q.key)),
  )
  const openChecks = computed(() => (sheet.value?.checks ?? []).filter((c) => !c.stands))

  const instruments = useInstruments(heard, (changed) => changed === sheetId && refetchSoon())
  /** The instrument chosen by hand for each kind, kept in this browser; none is the usual one. */
  const chosen = ref<Record<string, number>>(
    JSON.parse(localStorage.getItem(CHOSEN) ?? '{}') as Record<string, number>,
  )
  watch(chosen, (now) => localStorage.setItem(CHOSEN, JSON.stringify(now)), { deep: true })
  const byHand = computed(() =>
    instruments.all.value.filter(
      (i) => !i.stand_in && i.measures.includes(quantity.value?.instrument ?? ''),
    ),
  )
  const block = computed(
    () =>
      instruments.blocks.value.find((b) => b.id === chosen.value['reference block']) ??
      instruments.blocks.value[0],
  )
  const device = computed(() =>
    quantity.value ? instruments.fitting(quantity.value.instrument)[0] : undefined,
  )

  watch([at, text], () =>
    localStorage.setItem(DRAFT, JSON.stringify({ at: at.value, text: text.value })),
  )
  watch(short, (now) => localStorage.setItem(SHORT, now ? 'yes' : 'no'))
  watch(quantity, (now) => (unit.value = now?.entry_unit ?? ''), { immediate: true })
  watch(
    order,
    (now) => {
      if (!at.value && now.length) at.value = firstOpen()
    },
    { immediate: true },
  )

  function firstOpen(): string {
    const path = order.value.filter((q) => !short.value || q.required)
    return (path.find((q) => !answered.value.has(q.key)) ?? order.value[0])?.key ?? ''
  }

  let refetch: ReturnType<typeof setTimeout> | undefined
  /** The sheet changed, here or at another bench: look again, once for a burst of changes. */
  function refetchSoon(): void {
    clearTimeout(refetch)
    refetch = setTimeout(() => {
      void client.invalidateQueries({ queryKey: key })
      for (const shown of ['rack', 'strip', 'board', 'sheet'])
        void client.invalidateQueries({ queryKey: [shown] })
    }, REFETCH_MS)
  }

  function go(to: string): void {
    at.value = to
    text.value = ''
    fault.value = ''
    question.value = null
    photoId.value = null
    focus()
  }

  function goToStop(stop: string): void {
    const first = order.value.find((q) => q.stop === stop && (!short.value || q.required))
    go((first ?? order.value.find((q) => q.stop === stop))?.key ?? at.value)
  }

  function step(by: number): void {
    const rows = order.value.filter((q) => !short.value || q.required || q.key === at.value)
    const index = rows.findIndex((q) => q.key === asked.value?.key)
    const next = rows[Math.min(rows.length - 1, Math.max(0, index + by))]
    if (next) go(next.key)
  }

  function send(): Promise<void> {
    return deliver((stored) => stored === sheetId && refetchSoon(), refused)
  }

  function put(entry: Waiting): void {
    enqueue(entry)
    void send()
  }

  /** Enter: store what is typed and move on; on an empty entry just move on. */
  function store(): void {
    const typed = text.value.trim()
    if (question.value?.kind === 'not-applicable') return notApplicable(typed)
    if (!typed) return step(1)
    if (quantity.value) storeReading(typed)
    else if (item.value) storeChoice(typed)
  }

  function storeReading(typed: string, from?: { id: string; instrument: number }): void {
    const q = quantity.value
    if (!q) return
    for (const w of stuck.value) if (w.what === 'reading' && w.key === q.key) remove(w.id)
    const id = from?.id ?? newId()
    const located = q.key === 'hardness' || q.key === 'hardness_cladding'
    put({
      what: 'reading',
      sheetId,
      id,
      key: q.key,
      words: typed,
      body: {
        client_id: id,
        quantity: q.key as never,
        typed,
        default_unit: unit.value || q.entry_unit,
        confirmed: false,
        taken_at: new Date().toISOString(),
        method: from ? 'instrument' : 'manual',
        instrument_id: from?.instrument ?? handTool(q.instrument),
        reference_id: q.key === 'hardness_block' ? (block.value?.id ?? null) : null,
        above_edge_mm: located ? millimetres(place.value.above) : null,
        along_mm: located ? millimetres(place.value.along) : null,
      },
    })
    taken.push({ id, key: q.key })
    said.value = `${asked.value?.label} ${typed}`
    if (located) moveOn()
    step(1)
  }

  /** The instrument chosen for this kind, while the shop still has it in use. */
  function handTool(kind: string): number | null {
    const id = chosen.value[kind]
    return byHand.value.some((i) => i.id === id) ? (id ?? null) : null
  }

  /** The next indent keeps its height and stands 4 mm further along. */
  function moveOn(): void {
    const along = millimetres(place.value.along)
    if (along !== null) place.value.along = String(along + 4)
  }

  function storeChoice(typed: string): void {
    const it = item.value
    if (!it) return
    const chosen = understood(it, typed)
    if (typeof chosen === 'string') {
      fault.value = `${it.label}: ${typed} is not accepted; accepted: ${chosen}`
      return
    }
    observe(it.key, chosen.value, chosen.note, chosen.aspect)
    step(1)
  }

  /** Store what was seen of an item, over what stands there now. */
  function observe(what: string, value: string, note: string, aspect = ''): void {
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
        aspect: aspect as never,
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

  /** Enter what was refused once more, over what somebody else entered meanwhile. */
  async function enterOver(entry: Waiting): Promise<void> {
    if (entry.what !== 'observation') return
    await query.refetch()
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

  function seen(what: string, aspect = ''): ObservationOut | undefined {
    return sheet.value?.observations.find((o) => o.item === what && o.aspect === aspect)
  }

  function notApplicable(reason: string): void {
    if (!reason || !asked.value) {
      fault.value = 'Say why it does not apply, or press Esc.'
      return
    }
    observe(asked.value.key, 'not_applicable', reason)
    step(1)
  }

  /** The server will not take it as it stands: back to its question, with its words and text. */
  function refused(entry: Waiting, problem: Problem): void {
    if (entry.sheetId !== sheetId) return
    if (entry.what !== 'reading') {
      if (problem.status === 409) refetchSoon()
      return
    }
    interrupted.value = { at: at.value, text: text.value }
    at.value = entry.key
    text.value = entry.body.typed
    unit.value = entry.body.default_unit ?? unit.value
    const never = problem.kind !== 'unusual-value'
    if (!never || problem.suggestion) {
      const { message, suggestion } = problem
      question.value = { kind: 'unusual', entry, message, suggestion, never }
      fault.value = ''
    } else {
      question.value = null
      fault.value = problem.message
    }
    focus()
  }

  /** Keep an unusual reading, take the suggestion, or go back to correct it. */
  function settle(choice: 'keep' | 'take' | 'correct'): void {
    const open = question.value
    if (open?.kind !== 'unusual' || open.entry.what !== 'reading') return
    question.value = null
    remove(open.entry.id)
    if (choice === 'correct') return focus()
    const { body } = open.entry
    const typed = choice === 'take' && open.suggestion ? open.suggestion : body.typed
    const back = interrupted.value
    put({ ...open.entry, refused: undefined, body: { ...body, typed, confirmed: true } })
    go(back?.at ?? at.value)
    text.value = back?.text ?? ''
  }

  function strike(clientId: string, of: string, reason: string): void {
    const id = `void:${clientId}`
    put({ what: 'void', sheetId, id, key: of, words: reason, body: { reason } })
    struck.add(clientId)
    question.value = null
    said.value = 'reading voided; it stays in the history'
    focus()
  }

  /** The last reading that counts, here first, then anywhere on the sheet. */
  function voidLast(): void {
    const known = sheet.value?.readings ?? []
    const rows = [
      ...known.filter((r) => !r.voided).map((r) => ({ id: r.client_id, key: r.quantity })),
      ...taken.filter((t) => !known.some((r) => r.client_id === t.id)),
    ].filter((r) => !struck.has(r.id) && !stuck.value.some((w) => w.id === r.id))
    const last = rows.filter((r) => r.key === at.value).at(-1) ?? rows.at(-1)
    if (!last) return
    at.value = last.key
    strike(last.id, last.key, 'taken back at the bench')
  }

  function again(): void {
    const last = taken.at(-1)?.key ?? sheet.value?.readings.at(-1)?.quantity
    if (last) go(last)
  }

  function switchUnit(): void {
    const units = quantity.value?.units.filter((u) =>
      ['mm', 'in', 'g', 'oz', 'dps', 'incl', 'N', 'gf'].includes(u),
    )
    if (!units?.length) return
    unit.value = units[(units.indexOf(unit.value) + 1) % units.length] ?? unit.value
  }

  /** Decide on a check: it stands as it is, or its one-key correction is taken. */
  function decide(choice: 'stands' | 'mend'): void {
    if (question.value?.kind !== 'check') return
    const { check } = question.value
    question.value = null
    if (choice === 'stands') {
      const what = `check.${check.key}`
      observe(what, 'stands', check.wrong)
      return focus()
    }
    const newest = sheet.value?.readings.filter((r) => check.quantities.includes(r.quantity)).at(-1)
    go(check.quantity || newest?.quantity || check.quantities[0] || at.value)
    if (!check.typed) return
    for (const r of sheet.value?.readings ?? [])
      if (r.quantity === check.quantity && !r.voided)
        strike(r.client_id, r.quantity, `corrected: ${check.wrong}`.slice(0, 200))
    storeReading(check.typed)
  }

  function nextCheck(): void {
    const check = openChecks.value[0]
    if (check) question.value = { kind: 'check', check }
    else said.value = 'no check is open'
  }

  /** Ask the instrument for this quantity; the answer is stored as if typed. */
  async function take(): Promise<void> {
    const q = quantity.value
    const from = device.value
    if (!q) return
    if (!from) {
      said.value = `no ${q.instrument} is on a line; type the reading`
      return
    }
    said.value = `asking ${from.name}…`
    try {
      const certified = q.key === 'hardness_block' ? block.value?.certified : null
      const taken = await data(
        api.POST('/api/instruments/{instrument_id}/take', {
          params: { path: { instrument_id: from.id } },
          body: {
            quantity: q.key as never,
            about: certified ?? sheet.value?.expected[q.key] ?? null,
          },
        }),
      )
      if (quantity.value?.key !== q.key) return
      storeReading(taken.typed, { id: taken.client_id, instrument: taken.instrument_id })
    } catch (error) {
      fault.value = (error as Error).message
      said.value = ''
    }
  }

  /** A reading somebody sent from the instrument itself. */
  function heard(event: BenchEvent): void {
    const q = quantity.value
    const from = instruments.all.value.find((i) => i.id === event.instrument_id)
    if (!document.hasFocus() || !event.client_id || signedOff.value || !from) return
    if (!q || !from.measures.includes(q.instrument)) {
      said.value = `${event.name} sent ${event.typed}; ${asked.value?.label} is asked`
      return
    }
    storeReading(event.typed, { id: event.client_id, instrument: from.id })
  }

  onMounted(() => {
    for (const entry of mine.value) delete entry.refused
    void send()
  })
  onUnmounted(() => clearTimeout(refetch))

  // prettier-ignore
  return {
    query, sheet, catalogue, quantities, items, order, asked, quantity, item, at, text, unit, short,
    question, fault, said, place, photoId, mine, stuck, signedOff, answered, missing, openChecks,
    instruments, device, chosen, byHand, block, go, goToStop, step, store, storeReading, observe, settle, strike, voidLast, again,
    switchUnit, decide, enterOver, nextCheck, take, seen, put, refetchSoon, DRAFT,
  }
}

export function millimetres(typed: string): number | null {
  const value = Number(typed.replace(',', '.'))
  return typed.trim() && Number.isFinite(value) && value >= 0 ? value : null
}
