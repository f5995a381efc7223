import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onUnmounted, reactive, ref, watch, type Ref } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import type { BenchEvent, QuantityOut } from '@/api/schema'
import { stored } from '@/parts/stored'
import { listen } from './stream'

/** The shop's instruments with the state of each line, told by the server as it changes. */
export function useInstruments(
  onReading: (event: BenchEvent) => void,
  onSheet: (sheetId: number) => void,
) {
  const client = useQueryClient()
  const key = ['instruments']
  const query = useQuery({ queryKey: key, queryFn: () => data(api.GET('/api/instruments')) })
  /** What the stream told last of each line; it is newer than any list fetched. */
  const told = reactive(new Map<number, { state: string; words: string }>())
  const all = computed(() =>
    (query.data.value ?? []).filter((i) => !i.retired).map((i) => ({ ...i, ...told.get(i.id) })),
  )
  /** What reads something round the bench; a card tester is run in Trials. */
  const { quantities } = useCatalogue()
  const used = computed(() => new Set([...quantities.value.values()].map((q) => q.instrument)))
  const onLine = computed(() =>
    all.value.filter((i) => i.address && i.measures.some((kind) => used.value.has(kind))),
  )
  const blocks = computed(() => all.value.filter((i) => i.certified !== null))

  function heard(event: BenchEvent): void {
    if (event.what === 'sheet') onSheet(event.sheet_id ?? 0)
    if (event.what === 'reading') onReading(event)
    if (event.what === 'instrument' && event.instrument_id)
      told.set(event.instrument_id, { state: event.state ?? '', words: event.words ?? '' })
  }

  const leave = listen({
    open: () => void client.invalidateQueries({ queryKey: key }),
    error() {
      for (const i of onLine.value)
        told.set(i.id, { state: 'not_reached', words: 'The server does not answer.' })
    },
    message: (text) => heard(JSON.parse(text) as BenchEvent),
  })
  onUnmounted(leave)

  /** The instruments that can measure with what this quantity asks for; those ready first. */
  const fitting = (asked: string) =>
    onLine.value
      .filter((i) => i.measures.includes(asked))
      .sort((a, b) => Number(b.state === 'ready') - Number(a.state === 'ready'))

  return { all, onLine, blocks, fitting }
}

export type Instruments = ReturnType<typeof useInstruments>

const CHOSEN = 'maple-rook.instruments'

/** What a quantity is measured with: on the line, or by hand as chosen in this browser. */
export function useTools(instruments: Instruments, quantity: Ref<QuantityOut | undefined>) {
  /** The instrument chosen by hand for each kind; none is the usual one. */
  const chosen = ref<Record<string, number>>(stored<Record<string, number>>(CHOSEN, {}))
  watch(chosen, (now) => localStorage.setItem(CHOSEN, JSON.stringify(now)), { deep: true })
  const byHand = computed(() =>
    instruments.all.value.filter(
      (i) => !i.stand_in && i.measures.includes(quantity.value?.instrument ?? ''),
    ),
  )
  const block = computed(
    () =>
      instruments.blocks.value.find((b) => b.id === chosen.value['reference_block']) ??
      instruments.blocks.value[0],
  )
  const device = computed(() =>
    quantity.value ? instruments.fitting(quantity.value.instrument)[0] : undefined,
  )

  /** The instrument chosen for a kind, while the shop still has it in use. */
  function byHandWith(kind: string): number | null {
    const id = chosen.value[kind]
    return byHand.value.some((i) => i.id === id) ? (id ?? null) : null
  }

  return { chosen, byHand, block, device, byHandWith }
}

export type Tools = ReturnType<typeof useTools>
