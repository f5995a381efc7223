<script setup lang="ts">
import { computed } from 'vue'

/** A drafting dimension between two points of the drawing (mm, y up), with short ticks. */
const props = defineProps<{
  from: [number, number]
  to: [number, number]
  text: string
  size: number
  lit?: boolean
  beside?: boolean
}>()

const upright = computed(() => props.from[0] === props.to[0])
const tick = computed(() => props.size * 0.35)
const at = computed(() => ({
  x: (props.from[0] + props.to[0]) / 2 + (upright.value ? props.size * 0.4 : 0),
  y: -(props.from[1] + props.to[1]) / 2 + (upright.value ? props.size * 0.32 : -props.size * 0.35),
}))
</script>

<template>
  <g class="dimension" :class="{ lit }">
    <line :x1="from[0]" :y1="-from[1]" :x2="to[0]" :y2="-to[1]" />
    <template v-for="(end, i) in [from, to]" :key="i">
      <line
        :x1="end[0] - tick"
        :y1="-end[1] + tick"
        :x2="end[0] + tick"
        :y2="-end[1] - tick"
        class="tick"
      />
    </template>
    <text
      :x="at.x"
      :y="at.y"
      :font-size="size"
      :text-anchor="upright || beside ? 'start' : 'middle'"
    >
      {{ text }}
    </text>
  </g>
</template>

<style scoped>
.dimension line {
  stroke: var(--soft-ink);
  stroke-width: 0.8;
  vector-effect: non-scaling-stroke;
}

.dimension .tick {
  stroke-width: 1.2;
}

.dimension text {
  fill: var(--ink);
  font-family: var(--sans);
  paint-order: stroke;
  stroke: var(--ground);
  stroke-width: 0.25em;
  stroke-linejoin: round;
}

.dimension.lit line {
  stroke: var(--measured);
  stroke-width: 2;
}

.dimension.lit text {
  fill: var(--measured);
  font-weight: 600;
}
</style>
