<script setup lang="ts">
/** A scale bar of a round length in mm, for drawings whose user unit is the millimetre. */
defineProps<{ x: number; y: number; length: number; size: number }>()
</script>

<template>
  <g class="scale-bar" :transform="`translate(${x} ${y})`">
    <path :d="`M0 ${-size * 0.4}V0H${length}V${-size * 0.4}`" />
    <text :x="length / 2" :y="-size * 0.35" :font-size="size" text-anchor="middle">
      {{ length }} mm
    </text>
  </g>
</template>

<style scoped>
.scale-bar path {
  fill: none;
  stroke: var(--soft-ink);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.scale-bar text {
  fill: var(--soft-ink);
  font-family: var(--sans);
}
</style>
