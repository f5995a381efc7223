import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onMounted, onUnmounted, watch } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data, type Problem } from '@/api/client'
import type { BenchEvent } from '@/api/schema'
import { useEntry } from './entry'
import { useInstruments, useTools } from './instruments'
import { useNavigation } from './navigation'
import { useQuestions } from './questions'
import { deliver, type Waiting } from './queue'
import { useRecord } from './record'
import { keepDraft, newState } from './state'

const REFETCH_MS = 40

/** One sheet at the bench: where the person is, what waits to be stored, what is asked back. */
export function useBench(sheetId: number, focus: (selected?: boolean) => void) {
  const client = useQueryClient()
  const { catalogue, quantities, items, units, types } = useCatalogue()
  const key = ['bench-sheet', sheetId]
  const query = useQuery({
    queryKey: key,
    queryFn: () =>
      data(api.GET('/api/bench/sheets/{sheet_id}', { params: { path: { sheet_id: sheetId } } })),
  })
  const sheet = query.data
  const signedOff = computed(() => Boolean(sheet.value?.finished_at))

  const state = newState(sheetId, { sheet, quantities, items, units, types, focus })
  const { at, text, said, fault } = state
  watch([at, text, state.note, state.unit], () => keepDraft(state))
  watch(text, (now) => now && (state.edited.value = true), { flush: 'sync' })
  const record = useRecord(state, () => void send())
  const navigation = useNavigation(state, record.answered)
  const { asked, quantity } = navigation
  const instruments = useInstruments(heard, (changed) => changed === sheetId && refetchSoon())
  const tools = useTools(instruments, quantity)
  const entry = useEntry(state, navigation, record, tools)
  const questions = useQuestions(state, navigation, record, entry)

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

  function send(): Promise<void> {
    return deliver((entry, stored) => {
      record.confirmed(entry, stored.id)
      if (stored.sheet_id === sheetId) refetchSoon()
    }, refused)
  }

  /** What the server would not take waits beside its question; what is being typed is left. */
  function refused(refusal: Waiting, problem: Problem): void {
    if (refusal.sheetId !== sheetId) return
    said.value = `${refusal.words} was not stored, see below`
    if (problem.status === 409) refetchSoon()
  }

  /** Enter what was refused once more, over what somebody else entered meanwhile. */
  async function enterOver(refusal: Waiting): Promise<void> {
    await query.refetch()
    record.replaceStanding(refusal)
  }

  /** Ask the instrument for this quantity; the answer is stored as if typed. */
  async function take(): Promise<void> {
    const q = quantity.value
    const from = tools.device.value
    if (!q) return
    if (!from) {
      said.value = `no ${q.instrument} is on a line; type the reading`
      return
    }
    said.value = `asking ${from.name}…`
    try {
      const certified = q.key === 'hardness_block' ? tools.block.value?.certified : null
      const taken = await data(
        api.POST('/api/instruments/{instrument_id}/take', {
          params: { path: { instrument_id: from.id } },
          body: {
            quantity: q.key,
            about: certified ?? sheet.value?.expected[q.key] ?? null,
          },
        }),
      )
      if (quantity.value?.key !== q.key) return
      entry.storeReading(taken.typed, { id: taken.client_id, instrument: taken.instrument_id })
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
    entry.storeReading(event.typed, { id: event.client_id, instrument: from.id })
  }

  onMounted(() => {
    for (const waiting of record.mine.value) delete waiting.refused
    void send()
  })
  onUnmounted(() => clearTimeout(refetch))

  // prettier-ignore
  return {
    query, catalogue, signedOff, instruments, enterOver, take, refetchSoon,
    ...state, ...record, ...navigation, ...tools, ...entry, ...questions,
  }
}
