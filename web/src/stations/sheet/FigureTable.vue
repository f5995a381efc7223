<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import type { FigureOut, QuantityOut } from '@/api/schema'
import {
  expandedText,
  firstUnit,
  inFirstUnit,
  meanText,
  otherText,
  ratioText,
  unitText,
} from '@/parts/numbers'

/** Figures by stop with expanded uncertainty, in both unit systems. */
const props = defineProps<{ figures: Record<string, FigureOut> }>()

const { catalogue, quantities } = useCatalogue()
const groups = computed(() =>
  (catalogue.value?.stops ?? []).map((stop) => ({
    label: stop.label,
    rows: [...quantities.value.values()]
      .filter((q) => q.stop === stop.key)
      .flatMap((q) => rowsOf(q)),
  })),
)

/** A figure in the system that the shop shows first, and in the other. */
const first = (q: QuantityOut, figure: FigureOut) =>
  inFirstUnit(q, figure, catalogue.value?.units_first)
function second(q: QuantityOut, figure: FigureOut) {
  if (!figure.other) return null
  const { mean, expanded } = figure
  return firstUnit(q, catalogue.value?.units_first)
    ? { mean, expanded, unit: q.unit }
    : figure.other
}

/** A row a figure; one each where a quantity was read at several places. */
function rowsOf(q: QuantityOut) {
  if (!q.placed) {
    const figure = props.figures[q.key]
    return q.required || figure ? [{ key: q.key as string, label: q.label, q, figure }] : []
  }
  return Object.entries(props.figures)
    .filter(([key]) => key.startsWith(`${q.key}@`))
    .map(([key, figure]) => ({ key, label: `spine ${key.split('@')[1]}`, q, figure }))
}
</script>

<template>
  <table>
    <thead>
      <tr>
        <th>quantity</th>
        <th class="number">mean</th>
        <th class="number">± U (k = 2)</th>
        <th>unit</th>
        <th class="number">also</th>
        <th class="number">n</th>
      </tr>
    </thead>
    <tbody v-for="group in groups" :key="group.label">
      <tr v-for="{ key, label, q, figure } in group.rows" :key="key">
        <td>{{ label }}</td>
        <template v-if="figure">
          <td class="number mean" :class="figure.kind === 'measured' ? 'grade-M' : 'not-measured'">
            {{ q.key === 'asymmetry' ? ratioText(figure.mean) : meanText(first(q, figure)) }}
          </td>
          <td class="number soft">{{ expandedText(first(q, figure)) }}</td>
          <td class="unit">{{ unitText(first(q, figure).unit) }}</td>
          <td class="number soft">{{ otherText(second(q, figure)) }}</td>
          <td v-if="figure.kind === 'measured'" class="number soft">{{ figure.n }}</td>
          <td v-else class="number not-measured">{{ figure.kind }}</td>
        </template>
        <td v-else colspan="5" class="soft absent">not measured</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.mean {
  font-weight: 600;
}

td.unit {
  white-space: nowrap;
}

.absent {
  padding-left: 24px;
}
</style>
