<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import type { ComparisonOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'

/** Comparisons kept under a name; those put away are shown when asked for. */
const queries = useQueryClient()
const away = ref(false)
const kept = useQuery({
  queryKey: computed(() => ['kept-boards', away.value]),
  queryFn: () => data(api.GET('/api/board/kept', { params: { query: { away: away.value } } })),
})
const putting = useMutation({
  mutationFn: (row: ComparisonOut) =>
    data(
      api.POST('/api/board/kept/{comparison_id}/away', {
        params: { path: { comparison_id: row.id } },
        body: { away: !row.away },
      }),
    ),
  onSuccess: () => queries.invalidateQueries({ queryKey: ['kept-boards'] }),
})
const day = (text: string) => new Date(text).toLocaleDateString('en-GB', { dateStyle: 'medium' })
</script>

<template>
  <p class="no-print">
    <RouterLink to="/board">To the Board</RouterLink>
    <v-checkbox v-model="away" label="with those put away" class="away" />
  </p>
  <StateNote
    v-if="!kept.data.value"
    :error="kept.error.value"
    waiting="Looking through what was kept…"
    :retry="() => kept.refetch()"
  />
  <p v-else-if="!kept.data.value.length" class="soft">
    No comparison is kept yet. Lay two knives on the Board and press "Keep this comparison": the
    numbers of the day stay beside those of later days.
  </p>
  <div v-else class="scroll">
    <table>
      <thead>
        <tr>
          <th>comparison</th>
          <th>knives</th>
          <th>for</th>
          <th>kept</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in kept.data.value" :key="row.id" :class="{ soft: row.away }">
          <td>
            <RouterLink :to="`/board/kept/${row.id}`">{{ row.name }}</RouterLink>
          </td>
          <td class="small">{{ row.knives.join(' · ') }}</td>
          <td>{{ row.customer }}</td>
          <td>{{ day(row.recorded_at) }}, {{ row.person }}</td>
          <td>
            <button
              v-needs="'advise'"
              type="button"
              class="plain soft"
              @click="putting.mutate(row)"
            >
              {{ row.away ? 'take out again' : 'put away' }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
p {
  display: flex;
  align-items: center;
  gap: 20px;
}

.away {
  max-width: 240px;
}

.scroll {
  overflow-x: auto;
}
</style>
