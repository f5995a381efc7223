import { useQuery } from '@tanstack/vue-query'
import { computed, shallowRef } from 'vue'
import { api, data } from './client'
import type { Choice, ItemOut, ModelCardOut, PredictedOut, QuantityOut } from './schema'

const labels = shallowRef<Record<string, Record<string, string>>>({})

/** What people read for a code of a closed list. */
export function labelOf(list: string, code: string): string {
  return labels.value[list]?.[code] ?? code.replaceAll('_', ' ')
}

/** Choices as a select lists them. */
export function items(choices: Choice[] | undefined): { value: string; title: string }[] {
  return choices?.map((choice) => ({ value: choice.key, title: choice.label })) ?? []
}

/** The closed lists of the trade; loaded once. */
export function useCatalogue() {
  const query = useQuery({
    queryKey: ['catalogue'],
    queryFn: async () => {
      const found = await data(api.GET('/api/catalogue'))
      labels.value = found.labels
      return found
    },
    staleTime: Infinity,
  })
  const quantities = computed(
    () => new Map<string, QuantityOut>(query.data.value?.quantities.map((q) => [q.key, q])),
  )
  const items = computed(
    () => new Map<string, ItemOut>(query.data.value?.items.map((i) => [i.key, i])),
  )
  const units = computed(() => query.data.value?.units ?? [])
  const types = computed(
    () => new Map(query.data.value?.knife_types.map((t) => [t.key as string, t])),
  )
  /** The predictions of a blade in their order, each with its axis and its place. */
  const predicted = computed(() =>
    Object.values(query.data.value?.cards ?? {}).filter(
      (card): card is ModelCardOut & { predicted: PredictedOut } => card.predicted !== null,
    ),
  )
  /** Those that the shelf keeps of every knife. */
  const onShelf = computed(() => predicted.value.filter((card) => card.predicted.on_shelf))
  const typeLabel = (key: string) => types.value.get(key)?.label ?? key
  const grindOf = (key?: string) => query.data.value?.grinds.find((g) => g.key === key)
  const grindLabel = (key: string) => grindOf(key)?.label ?? key
  return {
    catalogue: query.data,
    quantities,
    units,
    types,
    items,
    predicted,
    onShelf,
    typeLabel,
    grindOf,
    grindLabel,
  }
}
