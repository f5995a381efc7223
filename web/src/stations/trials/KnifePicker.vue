<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'

/** One knife of the shop, found by typing its name or tag. */
const piece = defineModel<number | null>({ required: true })

const chosen = useQuery({
  queryKey: computed(() => ['strip', 'name', piece.value]),
  enabled: computed(() => piece.value !== null),
  queryFn: () => data(api.GET('/api/strip', { params: { query: { piece: [piece.value ?? 0] } } })),
})
const search = ref('')
/** The name of the chosen knife stands in the field: it is no search. */
const sought = computed(() => (search.value === nameOf(piece.value) ? '' : search.value))
const shelf = useQuery({
  queryKey: computed(() => ['rack', 'names', sought.value]),
  placeholderData: keepPreviousData,
  queryFn: () =>
    data(api.GET('/api/rack', { params: { query: { limit: 50, search: sought.value } } })),
})
const knives = computed(() => {
  const [held] = chosen.data.value ?? []
  const found = (shelf.data.value?.rows ?? []).map((k) => ({
    value: k.piece.id,
    title: k.piece.name,
  }))
  return held && !found.some((k) => k.value === held.id)
    ? [{ value: held.id, title: held.name }, ...found]
    : found
})
function nameOf(id: number | null): string {
  const held = chosen.data.value?.find((k) => k.id === id)
  return held?.name ?? (id === null ? '' : String(id))
}
</script>

<template>
  <v-autocomplete v-model="piece" v-model:search="search" :items="knives" label="Knife" no-filter />
</template>
