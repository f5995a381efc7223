<script setup lang="ts">
import { computed } from 'vue'
import type { CutOut } from '@/api/schema'

/** The parts of the downward force against depth, one on the other; drawn in the page itself. */
const props = defineProps<{ cut: CutOut }>()

const WIDE = 460
const TALL = 150
const depth = computed(() => props.cut.depth_mm)
const deepest = computed(() => depth.value[depth.value.length - 1] ?? 1)
const top = computed(() => {
  const peak = props.cut.peak_n || 1
  const step = 10 ** Math.floor(Math.log10(peak))
  const nice = [1, 1.5, 2, 3, 4, 5, 8, 10].find((m) => m * step >= peak * 1.02) ?? 10
  return nice * step
})
const x = (mm: number) => (mm / deepest.value) * WIDE
const y = (n: number) => TALL - (n / top.value) * TALL

const PARTS = ['parting', 'opening', 'wedging', 'friction', 'sticking'] as const
const layers = computed(() => {
  let low = depth.value.map(() => 0)
  return PARTS.map((key) => {
    const high = low.map((n, i) => n + (props.cut[`${key}_n`][i] ?? 0))
    const layer = { key, low, high, ends: ends(low, high) }
    low = high
    return layer
  })
})
const ends = (low: number[], high: number[]) =>
  (y(low[low.length - 1] ?? 0) + y(high[high.length - 1] ?? 0)) / 2

/** The texts at the right edge, kept a line apart. */
const labels = computed(() => {
  let below = TALL + 14
  return layers.value.map((layer) => {
    const at = Math.min(layer.ends + 4, below - 13)
    below = at
    const last = (layer.high[layer.high.length - 1] ?? 0) - (layer.low[layer.low.length - 1] ?? 0)
    return {
      key: layer.key,
      at,
      text: `${layer.key} ${last < 10 ? last.toFixed(1) : last.toFixed(0)} N`,
    }
  })
})
function area(low: number[], high: number[]): string {
  const up = high.map((n, i) => `${x(depth.value[i] ?? 0).toFixed(1)} ${y(n).toFixed(1)}`)
  const down = low.map((n, i) => `${x(depth.value[i] ?? 0).toFixed(1)} ${y(n).toFixed(1)}`)
  return `M${[...up, ...down.reverse()].join('L')}Z`
}
const ticks = computed(() => [0, 0.5, 1].map((s) => s * top.value))
const depths = computed(() => [0, 0.25, 0.5, 0.75, 1].map((s) => s * deepest.value))
</script>

<template>
  <svg
    class="parts"
    :viewBox="`-40 -8 ${WIDE + 160} ${TALL + 42}`"
    role="img"
    aria-label="Parts of the force against depth"
  >
    <g class="grid">
      <template v-for="n in ticks" :key="n">
        <line x1="0" :x2="WIDE" :y1="y(n)" :y2="y(n)" />
        <text x="-6" :y="y(n) + 4" text-anchor="end">{{ Number(n.toPrecision(3)) }}</text>
      </template>
      <text v-for="mm in depths" :key="`d${mm}`" :x="x(mm)" :y="TALL + 15" text-anchor="middle">
        {{ Number(mm.toPrecision(3)) }}
      </text>
      <text :x="WIDE / 2" :y="TALL + 29" text-anchor="middle">depth in the food, mm</text>
      <text x="-6" y="-1" text-anchor="end">N</text>
    </g>
    <path v-for="l in layers" :key="l.key" :d="area(l.low, l.high)" :class="l.key" />
    <text v-for="l in labels" :key="l.key" :x="WIDE + 8" :y="l.at">{{ l.text }}</text>
  </svg>
</template>

<style scoped>
.parts {
  display: block;
  width: 100%;
  max-width: 640px;
}

text {
  font: 12px var(--sans);
  fill: var(--ink);
}

.grid text {
  fill: var(--soft-ink);
}

path {
  stroke: var(--derived);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.parting {
  fill: color-mix(in srgb, var(--derived) 70%, var(--panel));
}

.opening {
  fill: color-mix(in srgb, var(--derived) 50%, var(--panel));
}

.wedging {
  fill: color-mix(in srgb, var(--derived) 32%, var(--panel));
}

.friction {
  fill: color-mix(in srgb, var(--derived) 16%, var(--panel));
}

.sticking {
  fill: color-mix(in srgb, var(--derived) 5%, var(--panel));
}
</style>
