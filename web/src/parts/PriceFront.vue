<script setup lang="ts">
import { computed } from 'vue'

/** Price against how well each suits: the stepped line joins those none beats in both. */
export interface Priced {
  mark: string
  colour: string
  price: number
  score: number[]
  front: boolean
  name: string
}
const props = defineProps<{ knives: Priced[]; currency: string }>()

const W = 420
const H = 190
const LEFT = 34
const BOTTOM = 30
const top = computed(() => {
  const most = Math.max(10, ...props.knives.map((k) => k.price)) * 1.08
  const step = 10 ** Math.floor(Math.log10(most))
  const nice = [1, 2, 2.5, 5, 10].map((n) => n * step).find((n) => most / n <= 4) ?? step
  return { most: Math.ceil(most / nice) * nice, step: nice }
})
const ticks = computed(() =>
  Array.from(
    { length: Math.round(top.value.most / top.value.step) + 1 },
    (_, i) => i * top.value.step,
  ),
)
const x = (price: number) => LEFT + ((W - LEFT - 16) * price) / top.value.most
const y = (score: number) => 8 + (H - BOTTOM - 8) * (1 - score)
const placed = computed(() =>
  props.knives.map((k) => {
    const [mid = 0, low = 0, high = 0] = k.score
    return { ...k, cx: x(k.price), cy: y(mid), y1: y(low), y2: y(high) }
  }),
)
const line = computed(() => {
  const on = placed.value.filter((k) => k.front).sort((a, b) => a.cx - b.cx)
  return on.map((k, i) => (i ? `H${k.cx}V${k.cy}` : `M${k.cx} ${k.cy}`)).join('')
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${W} ${H}`"
    role="img"
    aria-label="Price against how well each suits; the line joins those that no other beats on both"
  >
    <g v-for="score in [0, 0.25, 0.5, 0.75, 1]" :key="score">
      <line class="grid" :x1="LEFT" :x2="W - 16" :y1="y(score)" :y2="y(score)" />
      <text :x="LEFT - 6" :y="y(score) + 4" text-anchor="end">{{ 100 * score }}</text>
    </g>
    <text v-for="tick in ticks" :key="tick" :x="x(tick)" :y="H - BOTTOM + 15" text-anchor="middle">
      {{ tick }}
    </text>
    <text :x="W - 16" :y="H - 2" text-anchor="end">price, {{ currency }}</text>
    <path v-if="line" class="front" :d="line" />
    <g v-for="k in placed" :key="k.mark + k.name" :style="{ color: k.colour }">
      <title>{{ k.name }}: {{ k.price }}, suits {{ Math.round(100 * (k.score[0] ?? 0)) }}</title>
      <line class="whisker" :x1="k.cx" :x2="k.cx" :y1="k.y1" :y2="k.y2" />
      <circle :cx="k.cx" :cy="k.cy" r="8.5" :class="{ beaten: !k.front }" />
      <text class="mark" :x="k.cx" :y="k.cy + 4.5" text-anchor="middle">{{ k.mark }}</text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 520px;
}

text {
  fill: var(--soft-ink);
  font-size: 12px;
  font-family: var(--sans);
}

.grid {
  stroke: var(--hairline);
  stroke-width: 0.7;
}

.front {
  fill: none;
  stroke: var(--soft-ink);
  stroke-width: 1.4;
  stroke-dasharray: 5 3;
}

.whisker {
  stroke: currentColor;
  stroke-width: 1.4;
}

circle {
  fill: var(--ground);
  stroke: currentColor;
  stroke-width: 2;
}

circle.beaten {
  stroke-dasharray: 2 2;
  stroke-width: 1.2;
}

.mark {
  fill: currentColor;
  font-weight: 700;
}
</style>
