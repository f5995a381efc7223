<script setup lang="ts">
import { computed } from 'vue'
import type { ReprofileOut } from '@/api/schema'
import ScaleBar from './ScaleBar.vue'

/** The edge before and after, enlarged alike both ways, with what is cut away of each face. */
const props = defineProps<{ plan: ReprofileOut }>()

const tall = computed(() => {
  const removed = [...props.plan.removed_right, ...props.plan.removed_left].map(([, z]) => z ?? 0)
  const bevels = [props.plan.found.bevel_right_mm, props.plan.found.bevel_left_mm]
  return Math.min(12, 1.25 * Math.max(0.6, ...bevels, ...removed))
})
const text = computed(() => tall.value / 22)
const half = computed(() =>
  Math.max(
    0.3,
    ...props.plan.found.polygon
      .filter(([, z]) => (z ?? 0) <= tall.value)
      .map(([x]) => Math.abs(x ?? 0)),
  ),
)
const wide = computed(() => Math.max(2 * half.value + 10 * text.value, tall.value * 1.1))
const box = computed(
  () => `${-wide.value / 2} ${-tall.value} ${wide.value} ${tall.value + 3.4 * text.value}`,
)
function path(ring: number[][]): string {
  return ring.length
    ? `M${ring.map(([x, z]) => `${(x ?? 0).toFixed(4)} ${(-(z ?? 0)).toFixed(4)}`).join('L')}Z`
    : ''
}
const bar = computed(() => [0.1, 0.2, 0.5, 1, 2].find((b) => b > tall.value / 8) ?? 2)
</script>

<template>
  <svg
    class="ground"
    :viewBox="box"
    role="img"
    aria-label="The edge before and after, seen from the heel"
  >
    <defs>
      <pattern
        id="cut-away"
        patternUnits="userSpaceOnUse"
        :width="text * 0.5"
        :height="text * 0.5"
        patternTransform="rotate(45)"
      >
        <line x1="0" y1="0" x2="0" :y2="text * 0.5" :stroke-width="text * 0.22" />
      </pattern>
    </defs>
    <path class="after" :d="path(plan.made.polygon)" />
    <path class="gone" :d="path(plan.removed_right)" />
    <path class="gone" :d="path(plan.removed_left)" />
    <path class="before" :d="path(plan.found.polygon)" />
    <g :font-size="text">
      <text :x="-wide / 2 + text * 0.4" :y="text * 1.6">left face</text>
      <text :x="wide / 2 - text * 0.4" :y="text * 1.6" text-anchor="end">right face</text>
    </g>
    <ScaleBar :x="-bar / 2" :y="text * 2.9" :length="bar" :size="text" />
  </svg>
</template>

<style scoped>
.ground {
  display: block;
  width: 100%;
  max-height: 420px;
}

path {
  vector-effect: non-scaling-stroke;
  stroke-linejoin: round;
}

.after {
  fill: var(--steel-fill);
  stroke: var(--ink);
  stroke-width: 1.6;
}

.before {
  fill: none;
  stroke: var(--soft-ink);
  stroke-width: 1.2;
  stroke-dasharray: 5 3;
}

.gone {
  fill: url('#cut-away');
  stroke: none;
}

pattern line {
  stroke: var(--rust);
}

text {
  fill: var(--soft-ink);
  font-family: var(--sans);
}
</style>
