<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive } from 'vue'
import { api, data } from '@/api/client'
import type { ScaleOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'

/** The scales the shop scores on: each with what its numbers mean, so that readers can judge. */
const queries = useQueryClient()
const scales = useQuery({
  queryKey: ['score-scales'],
  queryFn: () => data(api.GET('/api/score-scales')),
})
const next = reactive({ name: '', highest: '10', criteria: '' })
const onSettled = () => queries.invalidateQueries({ queryKey: ['score-scales'] })
const add = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/score-scales', {
        body: {
          name: next.name.trim(),
          highest: Number(next.highest),
          criteria: next.criteria.trim(),
          retired: false,
        },
      }),
    ),
  onSuccess: () => Object.assign(next, { name: '', highest: '10', criteria: '' }),
  onSettled,
})
const retire = useMutation({
  mutationFn: ({ id, etag, name, highest, criteria, retired }: ScaleOut) =>
    data(
      api.PUT('/api/score-scales/{scale_id}', {
        params: { path: { scale_id: id }, header: { 'If-Match': etag } },
        body: { name, highest, criteria, retired: !retired },
      }),
    ),
  onSettled,
})
</script>

<template>
  <section aria-labelledby="scales">
    <h2 id="scales">Score scales</h2>
    <p class="soft intro">
      A score on a review names its scale and the criteria, so that a 7 means the same next year.
    </p>
    <StateNote v-if="!scales.data.value" :error="scales.error.value" waiting="Fetching scales…" />
    <div v-else-if="scales.data.value.length" class="scroll">
      <table>
        <thead>
          <tr>
            <th>scale</th>
            <th class="number">0 to</th>
            <th>criteria</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="scale in scales.data.value" :key="scale.id" :class="{ soft: scale.retired }">
            <td>{{ scale.name }}<template v-if="scale.retired"> (retired)</template></td>
            <td class="number">{{ scale.highest }}</td>
            <td>{{ scale.criteria }}</td>
            <td>
              <button
                v-needs="'set'"
                type="button"
                class="plain link small"
                :aria-label="`${scale.retired ? 'Use again' : 'Retire'} ${scale.name}`"
                @click="retire.mutate(scale)"
              >
                {{ scale.retired ? 'use again' : 'retire' }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <form v-needs="'set'" class="add" aria-label="Add a scale" @submit.prevent="add.mutate()">
      <v-text-field v-model="next.name" label="Name of a scale" maxlength="80" />
      <v-text-field v-model="next.highest" label="0 to" inputmode="numeric" maxlength="3" />
      <v-text-field
        v-model="next.criteria"
        label="Criteria: what its numbers mean"
        maxlength="1000"
      />
      <v-btn
        type="submit"
        :disabled="!next.name.trim() || !next.criteria.trim()"
        :loading="add.isPending.value"
        >Add</v-btn
      >
    </form>
    <p v-if="add.error.value ?? retire.error.value" class="rust" role="alert">
      ⚠ {{ (add.error.value ?? retire.error.value)?.message }}
    </p>
  </section>
</template>

<style scoped>
section {
  margin-top: 26px;
}

.add {
  display: grid;
  grid-template-columns: 2fr 90px 5fr auto;
  gap: 10px 14px;
  align-items: center;
  margin-top: 12px;
}

@media (max-width: 799px) {
  .add {
    grid-template-columns: 1fr;
  }
}
</style>
