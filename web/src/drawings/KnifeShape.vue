<script setup lang="ts">
import type { OutlineOut } from '@/api/schema'
import { polygonPath, roundedPath } from './paths'

defineProps<{ outline: OutlineOut }>()
</script>

<template>
  <g class="knife-shape">
    <path class="handle" :d="roundedPath(outline.handle)" />
    <path class="blade" :d="polygonPath(outline.blade)" />
  </g>
</template>

<style scoped>
.knife-shape path {
  stroke: var(--ink);
  stroke-width: 1;
  stroke-linejoin: round;
  vector-effect: non-scaling-stroke;
}

.blade {
  fill: var(--steel-fill);
}

.handle {
  fill: var(--handle-fill);
}
</style>
