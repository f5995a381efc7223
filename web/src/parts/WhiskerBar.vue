<script setup lang="ts">
import { computed } from 'vue'

/** A likely value with its 90 % interval on a named scale. */
const props = defineProps<{
  central: number
  low: number
  high: number
  from: number
  to: number
  colour?: string
  dash?: string
  thin?: boolean
}>()

const share = (value: number) =>
  Math.min(100, Math.max(0, ((value - props.from) / (props.to - props.from || 1)) * 100))
const bar = computed(() => ({
  left: share(props.low),
  right: share(props.high),
  mark: share(props.central),
}))
</script>

<template>
  <svg
    class="whisker"
    :class="{ thin }"
    viewBox="0 0 100 10"
    preserveAspectRatio="none"
    aria-hidden="true"
  >
    <line x1="0" x2="100" y1="5" y2="5" class="ground" />
    <line
      :x1="bar.left"
      :x2="bar.right"
      y1="5"
      y2="5"
      class="interval"
      :stroke="colour ?? 'var(--predicted)'"
      :stroke-dasharray="dash"
    />
    <line
      v-for="end in [bar.left, bar.right]"
      :key="end"
      :x1="end"
      :x2="end"
      y1="2.5"
      y2="7.5"
      class="end"
      :stroke="colour ?? 'var(--predicted)'"
    />
    <line
      :x1="bar.mark"
      :x2="bar.mark"
      y1="0.5"
      y2="9.5"
      class="mark"
      :stroke="colour ?? 'var(--predicted)'"
    />
  </svg>
</template>

<style scoped>
.whisker {
  display: block;
  width: 100%;
  height: 14px;
}

.whisker.thin {
  height: 8px;
}

line {
  vector-effect: non-scaling-stroke;
}

.ground {
  stroke: var(--hairline);
  stroke-width: 1;
}

.interval {
  stroke-width: 2;
}

.end {
  stroke-width: 1.5;
}

.mark {
  stroke-width: 4;
}
</style>
