import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from './client'
import type { ModelCardOut, ItemOut, PredictedOut, QuantityOut } from './schema'

/** The closed lists of the trade; loaded once. */
export function useCatalogue() {
  const query = useQuery({
    queryKey: ['catalogue'],
    queryFn: () => data(api.GET('/api/catalogue')),
    staleTime: Infinity,
  })
  const quantities = computed(
    () => new Map<string, QuantityOut>(query.data.value?.quantities.map((q) => [q.key, q])),
  )
  const items = computed(
    () => new Map<string, ItemOut>(query.data.value?.items.map((i) => [i.key, i])),
  )
  /** The predictions of a blade in their order, each with its axis and its place. */
  const predicted = computed(() =>
    Object.values(query.data.value?.cards ?? {}).filter(
      (card): card is ModelCardOut & { predicted: PredictedOut } => card.predicted !== null,
    ),
  )
  /** Those that the shelf keeps of every knife. */
  const onShelf = computed(() => predicted.value.filter((card) => card.predicted.on_shelf))
  const typeLabel = (key: string) =>
    query.data.value?.knife_types.find((t) => t.key === key)?.label ?? key
  const grindLabel = (key: string) =>
    query.data.value?.grinds.find((g) => g.key === key)?.label ?? key
  return { catalogue: query.data, quantities, items, predicted, onShelf, typeLabel, grindLabel }
}
