<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import type { BenchSheetOut, QuantityOut } from '@/api/schema'
import { meanText, ratioText, unitText } from '@/parts/numbers'

/** The stops in the order of work, with the state of each and what is read so far. */
const props = defineProps<{
  sheet: BenchSheetOut
  quantities: QuantityOut[]
  at: string
  waiting: string[]
}>()
defineEmits<{ go: [key: string] }>()

const { catalogue } = useCatalogue()
const STATES: Record<string, [string, string]> = {
  done: ['✓', 'done'],
  begun: ['◐', 'begun'],
  missing: ['○', 'missing'],
}
const stops = computed(() =>
  (catalogue.value?.stops ?? []).map((stop) => ({
    ...stop,
    sign: STATES[props.sheet.stops[stop.key] ?? 'missing'] ?? ['○', 'missing'],
    rows: props.quantities.filter((q) => q.stop === stop.key),
  })),
)

function value(q: QuantityOut): string {
  if (props.waiting.includes(q.key)) return 'on its way'
  const figure = props.sheet.figures[q.key]
  if (figure) {
    return q.key === 'asymmetry'
      ? ratioText(figure.mean)
      : `${meanText(figure)} ${unitText(q.unit)}`
  }
  if (q.required && !props.sheet.required.includes(q.key)) return 'n/a'
  return ''
}
</script>

<template>
  <nav class="stops" aria-label="Stops">
    <div v-for="stop in stops" :key="stop.key" class="stop">
      <p class="title" :class="stop.sign[1]">
        <span aria-hidden="true">{{ stop.sign[0] }}</span> {{ stop.label }}
        <span class="visually-hidden">{{ stop.sign[1] }}</span>
      </p>
      <button
        v-for="q in stop.rows"
        :key="q.key"
        type="button"
        class="plain row"
        :class="{ here: q.key === at }"
        :aria-current="q.key === at ? 'step' : undefined"
        tabindex="-1"
        @click="$emit('go', q.key)"
      >
        <span>{{ q.label }}</span>
        <span class="value" :class="{ soft: !sheet.figures[q.key] }">{{ value(q) }}</span>
      </button>
    </div>
  </nav>
</template>

<style scoped>
.stops {
  font-size: 14px;
}

.title {
  margin: 6px 0 1px;
  font-weight: 600;
}

.title.done {
  color: var(--measured);
}

.title.missing {
  color: var(--soft-ink);
}

.row {
  display: flex;
  justify-content: space-between;
  gap: 6px;
  width: 100%;
  padding: 2px 6px 2px 16px !important;
  line-height: 1.3;
}

.row:hover {
  background: var(--panel);
}

.row.here {
  background: var(--panel);
  box-shadow: inset 3px 0 0 var(--measured);
  font-weight: 600;
}

.value {
  white-space: nowrap;
}

@media (max-width: 699px) {
  .stops {
    display: none;
  }
}
</style>
