import { useQueries, useQueryClient } from '@tanstack/vue-query'
import { computed, shallowRef, watch, type Ref } from 'vue'
import { api, data } from '@/api/client'
import type { FoodMix, RackOut, RackRow } from '@/api/schema'

export const PAGE = 60
const AGAIN_MS = 1500

/** What is asked of the shelf: search, order and ranges. */
export interface Asked {
  search: string
  sort: string
  descending: boolean
  food_mix: FoodMix
  knife_type: string[]
  within: string[]
}

/** A row with the cutting ease for what is cut; one stored by an earlier release has the usual one. */
export function easeFor(row: RackRow, mix: FoodMix): RackRow {
  const ease = row.eases?.[mix]
  return ease ? { ...row, predicted: { ...row.predicted, cutting_ease: ease } } : row
}

/** The shelf page by page: those pages are fetched that hold rows between `first` and `last`. */
export function usePages(asked: Ref<Asked>, first: Ref<number>, last: Ref<number>) {
  const client = useQueryClient()
  const page = (of: Asked, n: number) => ({
    queryKey: ['rack', of, n],
    queryFn: () =>
      data(api.GET('/api/rack', { params: { query: { ...of, offset: n * PAGE, limit: PAGE } } })),
  })

  /** What is shown: the question before stays until the first page of the next is there. */
  const shown = shallowRef(asked.value)
  watch(asked, async (next) => {
    await client.ensureQueryData(page(next, 0)).catch(() => undefined)
    if (asked.value === next) shown.value = next
  })

  const wanted = computed(() => {
    const from = Math.max(0, Math.floor(first.value / PAGE))
    const to = Math.floor((last.value + PAGE) / PAGE)
    const end = head.value ? Math.max(0, Math.ceil(head.value.shown / PAGE) - 1) : 0
    const near = Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i)
    return [...new Set([0, ...near.filter((n) => n <= end)])]
  })
  const head = shallowRef<RackOut>()
  const found = useQueries({
    shallow: true,
    queries: computed(() =>
      wanted.value.map((n) => ({
        ...page(shown.value, n),
        refetchInterval: (query: { state: { data?: RackOut } }) =>
          query.state.data?.behind ? AGAIN_MS : false,
      })),
    ),
  })
  watch(
    () => found.value[0]?.data,
    (newest) => {
      if (newest) head.value = newest
    },
    { immediate: true },
  )

  const rows = computed(() => {
    const by = new Map<number, RackRow[]>()
    wanted.value.forEach((n, i) => {
      const rowsOf = found.value[i]?.data?.rows
      if (rowsOf) by.set(n, rowsOf)
    })
    return by
  })
  /** The row at a place of the shelf; nothing while it is on its way. */
  const at = (place: number): RackRow | undefined =>
    rows.value.get(Math.floor(place / PAGE))?.[place % PAGE]

  return {
    head,
    at,
    error: computed(() => found.value[0]?.error),
    again: () => client.refetchQueries({ queryKey: ['rack'] }),
  }
}
