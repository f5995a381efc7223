<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Difference } from '@/api/schema'
import { meanText, ratioText, unitText } from '@/parts/numbers'
import { mark } from '@/parts/letters'
import DifferenceMatrix from './DifferenceMatrix.vue'
import { evidenceId } from './evidence'
import WordSwitch from '@/parts/WordSwitch.vue'

/** One row per quantity that differs, what matters most first; the rest in one faded line. */
const props = defineProps<{ differences: Difference[]; order: string[]; count: number }>()

/** What matters most to the customer first, as the server weighed it. */
const sorted = computed(() => {
  const place = new Map(props.order.map((key, n) => [key, n]))
  const at = (d: Difference) => place.get(d.key) ?? place.size
  return [...props.differences].sort((a, b) => at(a) - at(b))
})
const groups = computed(() =>
  [
    { title: 'Noticeable at the board', verdict: 'noticeable' },
    { title: 'Real, but small', verdict: 'real' },
  ]
    .map((g) => ({ ...g, rows: sorted.value.filter((d) => d.verdict === g.verdict) }))
    .filter((g) => g.rows.length),
)
const VIEWS = [
  ['table', 'table'],
  ['matrix', 'every pair'],
] as const
const view = ref<'table' | 'matrix'>('table')
const same = computed(() => props.differences.filter((d) => d.verdict === 'not_measurable'))
const marks = computed(() => Array.from({ length: props.count }, (_, i) => mark(i)))
const shown = (d: Difference, i: number) => {
  const figure = d.values[i]
  if (!figure) return null
  return d.key === 'asymmetry' ? ratioText(figure.mean) : meanText(figure)
}
</script>

<template>
  <p v-if="!differences.length" class="soft">
    These knives have no measured quantity in common yet. Measure them at the Bench.
  </p>
  <template v-else>
    <WordSwitch v-model="view" legend="Show as" :choices="VIEWS" class="no-print view" />
    <DifferenceMatrix v-if="view === 'matrix'" :rows="sorted" :count="count" />
    <div v-else class="scroll">
      <table>
        <thead>
          <tr>
            <th>quantity</th>
            <th v-for="m in marks" :key="m.letter" class="number" :style="{ color: m.colour }">
              {{ m.letter }}
            </th>
            <th>unit</th>
            <th>widest difference</th>
          </tr>
        </thead>
        <tbody v-for="group in groups" :key="group.verdict">
          <tr>
            <th :colspan="count + 3" scope="rowgroup" class="group">{{ group.title }}</th>
          </tr>
          <tr v-for="d in group.rows" :id="evidenceId(`quantity.${d.key}`)" :key="d.key">
            <td>{{ d.label }}</td>
            <td v-for="(m, i) in marks" :key="m.letter" class="number" :class="`grade-${d.grade}`">
              <template v-if="shown(d, i)">{{ shown(d, i) }}</template>
              <span v-else class="soft" title="not measured or not predicted">n. m.</span>
            </td>
            <td class="unit">{{ unitText(d.unit) }}</td>
            <td class="small">{{ d.largest }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="same.length && view === 'table'" class="soft same">
      Same within measurement: {{ same.map((d) => d.label).join(', ') }}.
    </p>
  </template>
</template>

<style scoped>
td {
  line-height: 1.25;
}

td.unit {
  white-space: nowrap;
}

.group {
  padding-top: 10px;
  font-family: var(--serif);
  color: var(--ink);
}

.view {
  margin-bottom: 6px;
}

.same {
  margin-top: 8px;
}
</style>
