import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import { useHand } from './store'

/** The knives in hand as the strip shows them; asked for once, wherever they are named. */
export function useHungKnives() {
  const hand = useHand()
  return useQuery({
    queryKey: computed(() => ['strip', [...hand.ids].sort((a, b) => a - b).join('.')]),
    queryFn: () =>
      hand.ids.length
        ? data(api.GET('/api/strip', { params: { query: { piece: hand.ids } } }))
        : Promise.resolve([]),
    placeholderData: (before) => before,
  })
}
