<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import type { ModelRow } from '@/api/schema'
import FoldedPart from '@/parts/FoldedPart.vue'
import { decimalsFor, rounded, unitText } from '@/parts/numbers'

/** The model over its pieces: what the next piece will be, how many more to measure. */
const props = defineProps<{ modelId: number }>()

const precision = ref(0.5)
const PRECISIONS = [
  { value: 1, title: 'what is noticeable' },
  { value: 0.5, title: 'half of it' },
  { value: 0.25, title: 'a quarter of it' },
]
const query = useQuery({
  queryKey: computed(() => ['model-statistics', props.modelId, precision.value]),
  placeholderData: keepPreviousData,
  queryFn: () =>
    data(
      api.GET('/api/bench/models/{model_id}/statistics', {
        params: { path: { model_id: props.modelId }, query: { precision: precision.value } },
      }),
    ),
})
/** One piece says nothing of the spread. */
const rows = computed(() => query.data.value?.rows.filter((row) => row.n > 1) ?? [])
const digits = (row: ModelRow) => decimalsFor(2 * row.wanted)
const next = (row: ModelRow) =>
  row.next_half_width === null
    ? ''
    : `${rounded(row.mean - row.next_half_width, digits(row))} to ${rounded(row.mean + row.next_half_width, digits(row))}`
const more = (row: ModelRow) => {
  if (row.needed === null) return 'over 1000'
  return row.needed > row.n ? `${row.needed - row.n} more` : 'enough'
}
</script>

<template>
  <FoldedPart
    v-if="query.data.value"
    title="The model over its pieces"
    :about="`pieces measured: ${query.data.value.pieces}`"
  >
    <p v-if="!rows.length" class="soft">
      One piece of this model is measured, and one piece says nothing about the next. Measure a
      second to see how far pieces vary.
    </p>
    <p v-else class="soft small">
      A model's figure is a statistic, never one reading. Intervals at 95 % (Student's t).
    </p>
    <v-select
      v-if="rows.length"
      v-model="precision"
      :items="PRECISIONS"
      label="Precision wanted"
      class="precision"
      hide-details
    />
    <table v-if="rows.length">
      <thead>
        <tr>
          <th>quantity</th>
          <th class="number">pieces</th>
          <th class="number">mean</th>
          <th class="number">sd</th>
          <th>unit</th>
          <th class="number">next piece</th>
          <th class="number">for ±</th>
          <th class="number">to measure</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.key">
          <td>{{ row.label }}</td>
          <td class="number">{{ row.n }}</td>
          <td class="number grade-M">{{ rounded(row.mean, digits(row)) }}</td>
          <td class="number">
            {{ row.deviation === null ? '' : rounded(row.deviation, digits(row) + 1) }}
          </td>
          <td class="unit">{{ unitText(row.unit) }}</td>
          <td class="number" :class="{ soft: row.next_half_width === null }">{{ next(row) }}</td>
          <td class="number soft">{{ rounded(row.wanted, decimalsFor(row.wanted)) }}</td>
          <td class="number">{{ more(row) }}</td>
        </tr>
      </tbody>
    </table>
  </FoldedPart>
</template>

<style scoped>
section {
  overflow-x: auto;
}

.precision {
  max-width: 240px;
  margin: 8px 0;
}
</style>
