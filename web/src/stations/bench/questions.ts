import { computed } from 'vue'
import type { Entry } from './entry'
import type { Navigation } from './navigation'
import { remove, type Waiting } from './queue'
import type { SheetRecord } from './record'
import type { BenchState } from './state'

/** What the Bench asks back: an unusual reading, one refused, a check that contradicts. */
export function useQuestions(
  state: BenchState,
  { go }: Navigation,
  record: SheetRecord,
  entry: Entry,
) {
  const { sheet, at, text, question } = state
  const openChecks = computed(() => (sheet.value?.checks ?? []).filter((c) => !c.stands))

  /** Keep an unusual reading, take the suggestion, or go back to correct it. */
  function settle(choice: 'keep' | 'take' | 'correct'): void {
    const open = question.value
    if (open?.kind !== 'unusual') return
    question.value = null
    if (choice === 'correct') return state.focus(!open.from)
    if (choice === 'keep' && open.never) return
    entry.storeReading(choice === 'take' ? open.suggestion : open.typed, open.from, true)
  }

  /** A reading that the server would not take: kept as it is, put right, or typed again. */
  function settleRefused(refusal: Waiting, choice: 'keep' | 'take' | 'correct'): void {
    if (refusal.what !== 'reading') return
    const { typed } = refusal.body
    if (choice !== 'correct') {
      record.resend(refusal, choice === 'take' ? (refusal.suggestion ?? typed) : typed)
      return state.focus()
    }
    remove(refusal.id)
    state.drafts[refusal.key] = typed
    if (at.value === refusal.key && !text.value) text.value = typed
    else if (at.value !== refusal.key) go(refusal.key)
    state.focus(true)
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
    entry.storeReading(check.typed, undefined, true)
  }

  function nextCheck(): void {
    const check = openChecks.value[0]
    if (check) question.value = { kind: 'check', check }
    else state.said.value = 'no check is open'
  }

  return { openChecks, settle, settleRefused, decide, nextCheck }
}
