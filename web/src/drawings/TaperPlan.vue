<script setup lang="ts">
import { computed } from 'vue'
import type { KnifeMark } from '@/parts/letters'

/** Spines from above: thickness drawn twelve times larger than length. */
const props = defineProps<{
  tapers: { stations: number[][]; length: number; style?: KnifeMark }[]
}>()

const STRETCH = 12
const long = computed(() => Math.max(...props.tapers.map((t) => t.length)))
const thick = computed(
  () => STRETCH * Math.max(1, ...props.tapers.flatMap((t) => t.stations.map((s) => s[1] ?? 0))),
)
const box = computed(
  () => `-4 ${-thick.value / 2 - 4} ${long.value + 8} ${thick.value + 6 + long.value / 22}`,
)

function path(stations: number[][]): string {
  const up = stations.map(([x, t]) => `${x} ${(-(t ?? 0) * STRETCH) / 2}`)
  const down = [...stations].reverse().map(([x, t]) => `${x} ${((t ?? 0) * STRETCH) / 2}`)
  return `M${[...up, ...down].join('L')}Z`
}
</script>

<template>
  <svg class="taper" :viewBox="box" role="img" aria-label="Spine from above, heel to tip">
    <line x1="0" :x2="long" y1="0" y2="0" class="centre" />
    <path
      v-for="(taper, i) in tapers"
      :key="i"
      :d="path(taper.stations)"
      :stroke="taper.style?.colour ?? 'var(--ink)'"
      :stroke-dasharray="taper.style?.dash"
      :class="{ alone: tapers.length === 1 }"
    />
    <text x="0" :y="thick / 2 + long / 26" :font-size="long / 32">heel</text>
    <text :x="long" :y="thick / 2 + long / 26" :font-size="long / 32" text-anchor="end">tip</text>
  </svg>
</template>

<style scoped>
.taper {
  display: block;
  width: 100%;
  max-height: 150px;
}

path {
  fill: none;
  stroke-width: 1.5;
  stroke-linejoin: round;
  vector-effect: non-scaling-stroke;
}

path.alone {
  fill: var(--steel-fill);
}

.centre {
  stroke: var(--hairline);
  stroke-width: 1;
  stroke-dasharray: 6 3 1 3;
  vector-effect: non-scaling-stroke;
}

text {
  fill: var(--soft-ink);
  font-family: var(--sans);
}
</style>
