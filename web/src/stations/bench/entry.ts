import { watch } from 'vue'
import { newId } from '@/api/id'
import type { ItemOut } from '@/api/schema'
import { understood } from './choices'
import type { Tools } from './instruments'
import type { Navigation } from './navigation'
import { remove } from './queue'
import type { SheetRecord } from './record'
import type { BenchState, TakenFrom } from './state'
import { typedReading } from './typed'

/** The one entry field: what is typed there becomes a reading, or something seen. */
export function useEntry(
  state: BenchState,
  { order, asked, quantity, item, go, step }: Navigation,
  record: SheetRecord,
  tools: Pick<Tools, 'byHandWith' | 'block'>,
) {
  const { sheetId, sheet, at, text, unit, question, fault, said, place } = state

  /** Enter: store what is typed and move on; on an empty entry just move on. */
  function store(): void {
    const typed = text.value.trim()
    if (question.value?.kind === 'not-applicable') return notApplicable(typed)
    if (!typed) return step(1)
    if (quantity.value) storeReading(typed)
    else if (item.value) storeChoice(typed)
    else storeOnceKnown(typed)
  }

  /** Enter before the lists of the trade have come: it counts as soon as they have. */
  function storeOnceKnown(typed: string): void {
    const of = at.value
    const stop = watch([quantity, item], () => {
      stop()
      if (at.value === of && text.value.trim() === typed) store()
    })
  }

  /** A reading that can be, and is usual or confirmed, is on its way; else the Bench asks. */
  function storeReading(typed: string, from?: TakenFrom, confirmed = false): void {
    const q = quantity.value
    if (!q) return
    const bare = unit.value || q.entry_unit
    const read = typedReading(typed, bare, {
      quantity: q,
      units: state.units.value,
      type: state.types.value.get(sheet.value?.piece.knife_type ?? ''),
    })
    const never = 'wrong' in read
    if (never || (read.doubt && !confirmed)) {
      const message = never ? read.wrong : (read.doubt ?? '')
      question.value = {
        ...{ kind: 'unusual', typed, from, message, never },
        suggestion: read.suggestion ?? '',
      }
      return state.focus(!from)
    }
    for (const w of record.stuck.value) if (w.what === 'reading' && w.key === q.key) remove(w.id)
    const id = from?.id ?? newId()
    const located = q.key === 'hardness' || q.key === 'hardness_cladding'
    record.put({
      what: 'reading',
      sheetId,
      id,
      key: q.key,
      words: typed,
      body: {
        client_id: id,
        quantity: q.key,
        typed,
        default_unit: bare,
        confirmed,
        taken_at: new Date().toISOString(),
        method: from ? 'instrument' : 'manual',
        instrument_id: from?.instrument ?? tools.byHandWith(q.instrument),
        reference_id: q.key === 'hardness_block' ? (tools.block.value?.id ?? null) : null,
        above_edge_mm: located ? millimetres(place.value.above) : null,
        along_mm: located ? millimetres(place.value.along) : null,
        note: record.takeNote(),
        photo_id: record.takePhoto(),
      },
    })
    record.taken.push({ id, key: q.key, typed })
    if (!from) text.value = ''
    said.value = `${asked.value?.label} ${typed}`
    if (located) nextIndent()
    step(1)
  }

  /** The next indent keeps its height and stands 4 mm further along. */
  function nextIndent(): void {
    const along = millimetres(place.value.along)
    if (along !== null) place.value.along = String(along + 4)
  }

  function storeChoice(typed: string): void {
    const it = item.value
    if (!it) return
    const answer = understood(it, typed)
    if (typeof answer === 'string') {
      fault.value = `${it.label}: ${typed} is not accepted; accepted: ${answer}`
      return state.focus(true)
    }
    const note = [answer.note, record.takeNote()].filter(Boolean).join('; ')
    record.observe(it.key, answer.value, note, answer.aspect)
    text.value = ''
    said.value = `${it.label}: ${labels(it, answer.value)}`
    step(1)
  }

  /** What an earlier piece of the model showed, taken for this one too. */
  function asUsual(): void {
    const it = item.value
    const usual = it && sheet.value?.usual[it.key]
    if (!it || !usual) {
      said.value = 'no earlier piece of this model shows it'
      return
    }
    record.observe(it.key, usual.value, record.takeNote(), '')
    said.value = `${it.label}: ${usual.text}, as ${usual.tag}`
    step(1)
  }

  /** All that earlier pieces of the model showed at this stop and nobody answered yet. */
  function allAsUsual(): void {
    const open = order.value.filter(
      (q) => q.stop === asked.value?.stop && !record.answered.value.has(q.key),
    )
    const shown = sheet.value?.usual ?? {}
    const usual = open.filter((q) => shown[q.key]).map((q) => q.key)
    // What it is made of decides what else is asked: the rest of that answer comes with it.
    if (usual.includes('construction'))
      for (const key of Object.keys(shown))
        if (key.startsWith('cladding_') && !record.answered.value.has(key)) usual.push(key)
    for (const key of new Set(usual)) record.observe(key, shown[key]?.value ?? '', '')
    const labels = usual.map((key) => state.items.value.get(key)?.label)
    said.value = usual.length
      ? `${labels.join(', ')}: as ${shown[usual[0]!]?.tag}; go to what is not and enter it over`
      : 'no earlier piece of this model shows anything that is open here'
    if (!usual.includes(at.value)) return
    const after = order.value.findIndex((q) => q.key === at.value)
    const next = order.value.find((q, n) => n > after && !usual.includes(q.key))
    if (next) go(next.key)
  }

  let instant: ReturnType<typeof setTimeout> | undefined
  let chosenAt = -Infinity
  let enterToCome = false
  let chosen: { key: string; digit: string } | undefined

  /** A digit that is the whole answer needs no Enter; more typed at once, as by a scanner, does. */
  function digit(key: string): void {
    clearTimeout(instant)
    const it = item.value
    if (!it || !oneDigit(it) || question.value || text.value || !it.choices[Number(key) - 1]) return
    const of = at.value
    instant = setTimeout(() => {
      if (text.value !== key || at.value !== of) return
      storeChoice(key)
      chosenAt = performance.now()
      enterToCome = true
      chosen = { key: of, digit: key }
    }, AT_ONCE_MS)
  }

  /** A comma right after a digit that was taken at once: back to that answer, for its note. */
  function noteOnDigit(): boolean {
    if (!chosen || text.value || performance.now() - chosenAt > COMMA_MS) return false
    go(chosen.key)
    text.value = `${chosen.digit}, `
    chosen = undefined
    state.focus()
    return true
  }

  /** Whether this Enter belongs to the digit that was just taken without it; only one does. */
  function enteredAlready(): boolean {
    const belongs = enterToCome && !text.value && performance.now() - chosenAt < ENTER_MS
    enterToCome = false
    return belongs
  }

  function notApplicable(reason: string): void {
    if (!reason || !asked.value) {
      fault.value = 'Say why it does not apply, or press Esc.'
      return
    }
    record.observe(asked.value.key, 'not_applicable', reason)
    text.value = ''
    step(1)
  }

  function voidLast(): void {
    if (state.edited.value) return
    const last = record.lastReading(at.value)
    if (!last) {
      said.value = `no reading of ${asked.value?.label} to void; ↑ goes back`
      return
    }
    record.strike(last.id, last.key, 'taken back at the bench')
  }

  /** What this stop asks and nobody answered is fine; exceptions are entered over it. */
  function allFine(): void {
    const open = order.value.filter(
      (q) => q.stop === asked.value?.stop && !record.answered.value.has(q.key),
    )
    const fine = open
      .map((q) => state.items.value.get(q.key))
      .filter((it) => it?.choices.some((c) => c.key === FINE))
    for (const it of fine) if (it) record.observe(it.key, FINE, '', it.aspects[0]?.key)
    said.value = fine.length
      ? `${fine.length} marked as fine; go to any that is not and correct it`
      : 'nothing open here can be marked as fine'
  }

  /** Back to what was read last, for another reading of it. */
  function again(): void {
    const last = record.taken.at(-1)?.key ?? sheet.value?.readings.at(-1)?.quantity
    if (last) go(last)
  }

  function switchUnit(): void {
    const units = quantity.value?.units.filter((u) => SWITCHED.includes(u))
    if (!units?.length) return
    unit.value = units[(units.indexOf(unit.value) + 1) % units.length] ?? unit.value
    if (quantity.value) state.chosenUnits[quantity.value.dimension] = unit.value
  }

  // prettier-ignore
  return {
    store, storeReading, allFine, asUsual, allAsUsual, digit, noteOnDigit, enteredAlready, voidLast, again, switchUnit,
  }
}

export type Entry = ReturnType<typeof useEntry>

const FINE = 'fine'
/** Keys closer together than this are one entry; no hand types two answers so fast. */
const AT_ONCE_MS = 60
/** So long after a digit was taken, Enter still belongs to it. */
const ENTER_MS = 400
/** So long after a digit was taken, a comma begins the note to it. */
const COMMA_MS = 3000

const labels = (it: ItemOut, value: string) =>
  it.choices
    .filter((c) => value.split(',').includes(c.key))
    .map((c) => c.label)
    .join(', ')
/** One digit is a whole answer: one choice of nine at most, with no side or stroke to it. */
const oneDigit = (it: ItemOut) =>
  !it.free && !it.multiple && it.aspects.length < 2 && it.choices.length < 10
const SWITCHED = ['mm', 'in', 'g', 'oz', 'dps', 'incl', 'N', 'gf']

export function millimetres(typed: string): number | null {
  const value = Number(typed.replace(',', '.'))
  return typed.trim() && Number.isFinite(value) && value >= 0 ? value : null
}
