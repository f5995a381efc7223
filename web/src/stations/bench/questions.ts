import { computed, ref } from 'vue'
import type { Problem } from '@/api/client'
import type { Entry } from './entry'
import type { Navigation } from './navigation'
import { remove, type Waiting } from './queue'
import type { SheetRecord } from './record'
import type { BenchState } from './state'

/** What the Bench asks back: an unusual reading, a check that contradicts, a reading refused. */
export function useQuestions(
  state: BenchState,
  { go }: Navigation,
  record: SheetRecord,
  entry: Entry,
) {
  const { sheet, at, text, unit, question, fault } = state
  /** Where the person was, and what was half typed, when the server asked back. */
  const interrupted = ref<{ at: string; text: string } | null>(null)
  const openChecks = computed(() => (sheet.value?.checks ?? []).filter((c) => !c.stands))

  /** The server will not take a reading as it stands: back to its question, with what was typed. */
  function refused(refusal: Waiting, problem: Problem): void {
    if (refusal.what !== 'reading') return
    interrupted.value = { at: at.value, text: text.value }
    at.value = refusal.key
    text.value = refusal.body.typed
    unit.value = refusal.body.default_unit ?? unit.value
    const never = problem.kind !== 'unusual-value'
    if (!never || problem.suggestion) {
      const { message, suggestion } = problem
      question.value = { kind: 'unusual', entry: refusal, message, suggestion, never }
      fault.value = ''
    } else {
      question.value = null
      fault.value = problem.message
    }
    state.focus()
  }

  /** Keep an unusual reading, take the suggestion, or go back to correct it. */
  function settle(choice: 'keep' | 'take' | 'correct'): void {
    const open = question.value
    if (open?.kind !== 'unusual' || open.entry.what !== 'reading') return
    question.value = null
    remove(open.entry.id)
    if (choice === 'correct') return state.focus()
    const { body } = open.entry
    const typed = choice === 'take' && open.suggestion ? open.suggestion : body.typed
    const back = interrupted.value
    record.put({ ...open.entry, refused: undefined, body: { ...body, typed, confirmed: true } })
    go(back?.at ?? at.value)
    text.value = back?.text ?? ''
  }

  /** Decide on a check: it stands as it is, or its one-key correction is taken. */
  function decide(choice: 'stands' | 'mend'): void {
    if (question.value?.kind !== 'check') return
    const { check } = question.value
    question.value = null
    if (choice === 'stands') {
      record.observe(`check.${check.key}`, 'stands', check.wrong)
      return state.focus()
    }
    const newest = sheet.value?.readings.filter((r) => check.quantities.includes(r.quantity)).at(-1)
    go(check.quantity || newest?.quantity || check.quantities[0] || at.value)
    if (!check.typed) return
    for (const r of sheet.value?.readings ?? [])
      if (r.quantity === check.quantity && !r.voided)
        record.strike(r.client_id, r.quantity, `corrected: ${check.wrong}`.slice(0, 200))
    entry.storeReading(check.typed)
  }

  function nextCheck(): void {
    const check = openChecks.value[0]
    if (check) question.value = { kind: 'check', check }
    else state.said.value = 'no check is open'
  }

  return { openChecks, refused, settle, decide, nextCheck }
}
