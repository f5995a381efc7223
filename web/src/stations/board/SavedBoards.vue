<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import type { ComparisonOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'
import { dayText } from '@/parts/moments'

/** Comparisons saved under a name; those put away are shown when asked for. */
const queries = useQueryClient()
const away = ref(false)
const saved = useQuery({
  queryKey: computed(() => ['saved-boards', away.value]),
  queryFn: () => data(api.GET('/api/board/saved', { params: { query: { away: away.value } } })),
})
const putting = useMutation({
  mutationFn: (row: ComparisonOut) =>
    data(
      api.POST('/api/board/saved/{comparison_id}/away', {
        params: { path: { comparison_id: row.id } },
        body: { away: !row.away },
      }),
    ),
  onSuccess: () => queries.invalidateQueries({ queryKey: ['saved-boards'] }),
})
</script>

<template>
  <p class="no-print">
    <RouterLink to="/board">To the Board</RouterLink>
    <v-checkbox v-model="away" label="include archived" class="away" />
  </p>
  <StateNote
    v-if="!saved.data.value"
    :error="saved.error.value"
    waiting="Looking through what was saved…"
    :retry="() => saved.refetch()"
  />
  <p v-else-if="!saved.data.value.length" class="soft">
    No comparison is saved yet. Lay two knives on the Board and press "Save this comparison": the
    numbers of the day stay beside those of later days.
  </p>
  <div v-else class="scroll">
    <table>
      <thead>
        <tr>
          <th>comparison</th>
          <th>knives</th>
          <th>for</th>
          <th>saved</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in saved.data.value" :key="row.id" :class="{ soft: row.away }">
          <td>
            <RouterLink :to="`/board/saved/${row.id}`">{{ row.name }}</RouterLink>
          </td>
          <td class="small">{{ row.knives.join(' · ') }}</td>
          <td>{{ row.customer }}</td>
          <td>{{ dayText(row.recorded_at) }}, {{ row.person }}</td>
          <td>
            <button
              v-needs="'advise'"
              type="button"
              class="plain soft"
              @click="putting.mutate(row)"
            >
              {{ row.away ? 'restore' : 'archive' }}
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
</style>
