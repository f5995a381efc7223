<script setup lang="ts">
import { computed } from 'vue'
import type { CountOut, LifeOut } from '@/api/schema'
import { rounded } from '@/parts/numbers'

/** Thickness behind the edge over the sharpenings to come, and where something is due. */
const props = defineProps<{ life: LifeOut }>()

const WIDE = 560
const TALL = 170
const last = computed(() => props.life.curve.at(-1)?.sharpenings ?? 1)
const top = computed(
  () => 1.15 * Math.max(props.life.behind_due_mm, props.life.curve.at(-1)?.behind_edge_mm ?? 0.1),
)
const x = (n: number) => (Math.min(n, last.value) / last.value) * WIDE
const y = (t: number) => TALL - (t / top.value) * TALL
const path = computed(
  () =>
    `M${props.life.curve.map((p) => `${x(p.sharpenings).toFixed(1)} ${y(p.behind_edge_mm).toFixed(1)}`).join('L')}`,
)
/** The words at the dashed line's end stand on the side that the curve leaves free. */
const away = computed(() =>
  (props.life.curve.at(-1)?.behind_edge_mm ?? 0) > props.life.behind_due_mm ? 14 : -4,
)
const marks = computed(() => {
  const all: [string, CountOut | null][] = [
    ['bolster', props.life.bolster],
    ['thinning', props.life.thinning],
    ['end', props.life.end],
  ]
  return all.flatMap(([name, count], row) =>
    count && count.central <= 1.1 * last.value ? [{ name, count, row }] : [],
  )
})
const levels = computed(() => {
  const step = [0.05, 0.1, 0.2, 0.5, 1].find((s) => top.value / s <= 5) ?? 2
  return Array.from({ length: Math.floor(top.value / step) + 1 }, (_, i) => i * step)
})
const ticks = computed(() => {
  const step = [5, 10, 20, 50, 100, 200, 500].find((s) => last.value / s <= 6) ?? 1000
  return Array.from({ length: Math.floor(last.value / step) + 1 }, (_, i) => i * step)
})
</script>

<template>
  <svg
    class="curve"
    :viewBox="`-52 -18 ${WIDE + 76} ${TALL + 102}`"
    role="img"
    aria-label="Thickness behind the edge over the sharpenings to come"
  >
    <g class="grid">
      <template v-for="t in levels" :key="t">
        <line x1="0" :x2="WIDE" :y1="y(t)" :y2="y(t)" />
        <text x="-6" :y="y(t) + 4" text-anchor="end">{{ rounded(t, 2) }}</text>
      </template>
      <text x="0" y="-4">mm behind the edge</text>
      <text v-for="n in ticks" :key="n" :x="x(n)" :y="TALL + 16" text-anchor="middle">{{ n }}</text>
      <text :x="WIDE" :y="TALL + 30" text-anchor="end">sharpenings from now</text>
    </g>
    <line class="due" x1="0" :x2="WIDE" :y1="y(life.behind_due_mm)" :y2="y(life.behind_due_mm)" />
    <text class="word" :x="WIDE" :y="y(life.behind_due_mm) + away" text-anchor="end">
      thinning due
    </text>
    <path :d="path" />
    <g v-for="mark in marks" :key="mark.name" class="mark">
      <line
        :x1="x(mark.count.low)"
        :x2="x(mark.count.high)"
        :y1="TALL + 40 + 16 * mark.row"
        :y2="TALL + 40 + 16 * mark.row"
      />
      <circle :cx="x(mark.count.central)" :cy="TALL + 40 + 16 * mark.row" r="3.5" />
      <text class="word" x="-6" :y="TALL + 44 + 16 * mark.row" text-anchor="end">
        {{ mark.name }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.curve {
  display: block;
  width: 100%;
  max-width: 680px;
}

path {
  fill: none;
  stroke: var(--predicted);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}

.grid text,
.word {
  fill: var(--soft-ink);
  font: 12px var(--sans);
}

.due {
  stroke: var(--rust);
  stroke-width: 1.2;
  stroke-dasharray: 5 3;
}

.mark line {
  stroke: var(--predicted);
  stroke-width: 1.4;
}

.mark circle {
  fill: var(--predicted);
}
</style>
