<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Range } from '@/api/schema'

/** A range filter with the shelf's own distribution drawn over the slider. */
const props = defineProps<{ range: Range; chosen: [number, number] | null }>()
const emit = defineEmits<{ choose: [range: [number, number] | null] }>()

const ends = computed<[number, number]>(() => [props.range.low, props.range.high])
const held = ref<[number, number]>(props.chosen ?? ends.value)
watch([() => props.chosen, ends], () => (held.value = props.chosen ?? ends.value))

const step = computed(() => {
  const width = props.range.high - props.range.low
  return width > 60 ? 1 : width > 6 ? 0.1 : 0.01
})
const shown = (value: number) => String(Number(value.toFixed(2)))
const tallest = computed(() => Math.max(1, ...props.range.counts))

function settle(value: readonly number[]): void {
  const [low = props.range.low, high = props.range.high] = value
  const whole = low <= props.range.low && high >= props.range.high
  emit('choose', whole ? null : [low, high])
}
</script>

<template>
  <div class="range" :class="{ active: chosen }">
    <p class="label small">
      <span
        >{{ range.label }} <span class="unit">{{ range.unit }}</span></span
      >
      <span class="number">{{ shown(held[0]) }} – {{ shown(held[1]) }}</span>
    </p>
    <svg
      class="spread"
      :viewBox="`0 0 ${range.counts.length} 10`"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <rect
        v-for="(count, i) in range.counts"
        :key="i"
        :x="i + 0.08"
        width="0.84"
        :y="10 - (10 * count) / tallest"
        :height="(10 * count) / tallest"
      />
    </svg>
    <v-range-slider
      v-model="held"
      :min="range.low"
      :max="range.high"
      :step="step"
      :aria-label="range.label"
      thumb-size="12"
      track-size="2"
      @end="settle"
      @keyup="settle(held)"
    />
  </div>
</template>

<style scoped>
.label {
  display: flex;
  justify-content: space-between;
  margin: 0;
}

.spread {
  display: block;
  width: calc(100% - 16px);
  height: 18px;
  margin: 2px 8px -13px;
}

rect {
  fill: var(--hairline);
}

.active rect {
  fill: var(--measured);
  opacity: 0.6;
}
</style>
