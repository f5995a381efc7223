<script setup lang="ts">
import { computed } from 'vue'
import type { KnifeMark } from '@/parts/letters'

/** Sections seen from the heel, edge down, thickness drawn larger so that the wedge can be seen. */
const props = withDefaults(
  defineProps<{
    sections: { polygon: number[][]; style?: Pick<KnifeMark, 'colour' | 'dash'> }[]
    label?: string
  }>(),
  { label: 'Section at the heel, seen from the heel' },
)

const STRETCH = 4
const tall = computed(() =>
  Math.max(...props.sections.flatMap((s) => s.polygon.map((p) => p[1] ?? 0))),
)
const wide = computed(
  () =>
    STRETCH *
    Math.max(1, ...props.sections.flatMap((s) => s.polygon.map((p) => Math.abs(p[0] ?? 0)))),
)
const box = computed(
  () => `${-wide.value - 6} ${-tall.value - 2} ${2 * wide.value + 12} ${tall.value + 6}`,
)

function path(polygon: number[][]): string {
  return `M${polygon.map(([x, z]) => `${((x ?? 0) * STRETCH).toFixed(3)} ${(-(z ?? 0)).toFixed(3)}`).join('L')}Z`
}
</script>

<template>
  <svg class="section" :viewBox="box" role="img" :aria-label="label">
    <line :x1="-wide - 6" :x2="wide + 6" y1="0" y2="0" class="board" />
    <line x1="0" x2="0" y1="0" :y2="-tall" class="centre" />
    <path
      v-for="(section, i) in sections"
      :key="i"
      :d="path(section.polygon)"
      :stroke="section.style?.colour ?? 'var(--ink)'"
      :stroke-dasharray="section.style?.dash"
      :class="{ alone: sections.length === 1 }"
    />
  </svg>
</template>

<style scoped>
.section {
  display: block;
  width: 100%;
  max-height: 190px;
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

.board,
.centre {
  stroke: var(--hairline);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.centre {
  stroke-dasharray: 6 3 1 3;
}
</style>
