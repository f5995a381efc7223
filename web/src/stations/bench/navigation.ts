import { computed, ref, watch, type Ref } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import type { AskedOut } from '@/api/schema'
import { firstUnit } from '@/parts/numbers'
import type { BenchState } from './state'

const SHORT = 'maple-rook.short-sheet'

/** What the sheet asks, where the person is in it, and the way to the next question. */
export function useNavigation(state: BenchState, answered: Ref<Set<string>>) {
  const { at, text, fault, question, photoId } = state
  const { catalogue } = useCatalogue()
  const short = ref(localStorage.getItem(SHORT) === 'yes')
  watch(short, (now) => localStorage.setItem(SHORT, now ? 'yes' : 'no'))

  const order = computed<AskedOut[]>(() => state.sheet.value?.questions ?? [])
  const asked = computed(() => order.value.find((q) => q.key === at.value) ?? order.value[0])
  const quantity = computed(() => state.quantities.value.get(asked.value?.key ?? ''))
  const item = computed(() => state.items.value.get(asked.value?.key ?? ''))
  const missing = computed(() =>
    order.value.filter((q) => q.required && !answered.value.has(q.key)),
  )

  watch(
    quantity,
    (now) => {
      const chosen =
        state.chosenUnits[now?.dimension ?? ''] ?? firstUnit(now, catalogue.value?.units_first)
      state.unit.value = (chosen && now?.units.includes(chosen) && chosen) || now?.entry_unit || ''
    },
    { immediate: true, flush: 'sync' },
  )
  /** The sheet's own order when it last asked what is asked now. */
  let known: AskedOut[] = []
  watch(
    [order, at],
    ([now]) => {
      if (!now.length) return
      if (now.some((q) => q.key === at.value)) {
        known = now
        return
      }
      const index = known.findIndex((q) => q.key === at.value)
      const gone = known[index]
      if (gone) passOver(gone, known.slice(index + 1))
      else at.value = firstOpen()
    },
    { immediate: true },
  )

  const inPath = (q: AskedOut) => !short.value || q.required

  function firstOpen(): string {
    const open = order.value.find((q) => inPath(q) && !answered.value.has(q.key))
    return (open ?? order.value[0])?.key ?? ''
  }

  /** To a question; what is half typed here waits here, what was half typed there is there. */
  function go(to: string): void {
    const { drafts } = state
    if (text.value.trim() && question.value?.kind !== 'not-applicable')
      drafts[at.value] = text.value
    else delete drafts[at.value]
    at.value = to
    text.value = drafts[to] ?? ''
    state.edited.value = Boolean(text.value)
    fault.value = ''
    question.value = null
    photoId.value = null
    state.focus(Boolean(text.value))
  }

  /** A later answer made a question pointless: the next one takes its place. */
  function passOver(gone: AskedOut, after: AskedOut[]): void {
    const typed = text.value.trim()
    const left = new Set(order.value.map((q) => q.key))
    go((after.find((q) => left.has(q.key)) ?? order.value.at(-1))?.key ?? '')
    state.said.value = `${gone.label} is no longer asked`
    if (typed) state.said.value += `; “${typed}” was not stored`
  }

  function goToStop(stop: string): void {
    const ofStop = order.value.filter((q) => q.stop === stop)
    go((ofStop.find(inPath) ?? ofStop[0])?.key ?? at.value)
  }

  /** To the first question of the next stop, or of the one before. */
  function stepStop(by: number): void {
    const stops = [...new Set(order.value.filter(inPath).map((q) => q.stop))]
    const next = stops[stops.indexOf(asked.value?.stop ?? '') + by]
    if (next) goToStop(next)
  }

  function step(by: number): void {
    const rows = order.value.filter((q) => inPath(q) || q.key === at.value)
    const index = rows.findIndex((q) => q.key === asked.value?.key)
    const next = rows[Math.min(rows.length - 1, Math.max(0, index + by))]
    if (next) go(next.key)
  }

  return { short, order, asked, quantity, item, missing, go, goToStop, stepStop, step }
}

export type Navigation = ReturnType<typeof useNavigation>
