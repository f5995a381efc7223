<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { RepeatRow, SheetOfPiece } from '@/api/schema'
import { expandedText, meanText, ratioText, rounded, unitText } from '@/parts/numbers'
import { dayText } from '@/parts/moments'

/** Two sheets of the same piece against each other: wear, or who measured. */
const props = defineProps<{ sheets: SheetOfPiece[] }>()

const read = computed(() => props.sheets.filter((s) => s.readings > 0))
const earlier = ref<number | null>(null)
const later = ref<number | null>(null)
watch(
  read,
  (now) => {
    later.value = now.at(-1)?.id ?? null
    earlier.value = now.at(-2)?.id ?? null
  },
  { immediate: true },
)
const choices = computed(() =>
  read.value.map((s) => ({
    value: s.id,
    title: `${dayText(s.started_at)}, ${s.person}`,
  })),
)
const query = useQuery({
  queryKey: computed(() => ['repeat', later.value, earlier.value]),
  enabled: computed(() => later.value !== null && earlier.value !== null),
  queryFn: () =>
    data(
      api.GET('/api/bench/sheets/{sheet_id}/against/{earlier_id}', {
        params: { path: { sheet_id: later.value ?? 0, earlier_id: earlier.value ?? 0 } },
      }),
    ),
})
const figure = (row: RepeatRow, side: 'earlier' | 'later') =>
  row.unit === '%' ? ratioText(row[side].mean) : meanText(row[side])
const difference = (row: RepeatRow) => {
  const text = meanText({ mean: row.difference, expanded: row.expanded })
  return `${row.difference > 0 ? '+' : ''}${text}`
}
</script>

<template>
  <section v-if="read.length > 1">
    <h2>Measured again</h2>
    <div class="pick">
      <v-select v-model="earlier" :items="choices" label="earlier" hide-details />
      <v-select v-model="later" :items="choices" label="later" hide-details />
    </div>
    <template v-if="query.data.value">
      <p class="words">{{ query.data.value.words }}</p>
      <table>
        <thead>
          <tr>
            <th>quantity</th>
            <th class="number">earlier</th>
            <th class="number">later</th>
            <th class="number">difference</th>
            <th class="number">U</th>
            <th>unit</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in query.data.value.rows" :key="row.key">
            <td>{{ row.label }}</td>
            <td class="number">{{ figure(row, 'earlier') }}</td>
            <td class="number">{{ figure(row, 'later') }}</td>
            <td class="number" :class="{ soft: row.verdict === 'not_measurable' }">
              {{ row.verdict === 'not_measurable' ? '' : difference(row) }}
            </td>
            <td class="number soft">
              {{
                row.unit === '%'
                  ? rounded(row.expanded, 0)
                  : expandedText({ mean: 0, expanded: row.expanded })
              }}
            </td>
            <td class="unit">{{ unitText(row.unit) }}</td>
            <td :class="row.verdict === 'not_measurable' ? 'soft' : ''">
              {{
                row.verdict === 'not_measurable'
                  ? 'same within measurement'
                  : labelOf('Verdict', row.verdict)
              }}
            </td>
          </tr>
        </tbody>
      </table>
    </template>
    <p v-else-if="query.error.value" class="rust">⚠ {{ query.error.value.message }}</p>
  </section>
</template>

<style scoped>
section {
  overflow-x: auto;
}

.pick {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  max-width: 520px;
  margin: 10px 0;
}

.words {
  font-family: var(--serif);
  font-size: var(--size-l);
  margin: 6px 0;
}
</style>
