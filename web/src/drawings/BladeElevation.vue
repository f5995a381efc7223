<script setup lang="ts">
import { computed } from 'vue'
import type { FigureOut, OutlineOut } from '@/api/schema'
import { meanText } from '@/parts/numbers'
import DimensionLine from './DimensionLine.vue'
import KnifeShape from './KnifeShape.vue'
import { extent } from './paths'
import ScaleBar from './ScaleBar.vue'

/** The knife from the side at true scale, with the measured dimensions around it. */
const props = defineProps<{
  outline: OutlineOut
  figures: Record<string, FigureOut>
  lit?: string
  roomy?: boolean
}>()

const size = computed(() => Math.max(6, props.outline.overall_length_mm / (props.roomy ? 62 : 34)))
const around = computed(() => extent(props.outline))
const foot = computed(() => Math.min(0, around.value.bottom))
const box = computed(() => {
  const s = size.value
  const { left, right, top, bottom } = around.value
  const high = top - Math.min(0, bottom)
  return `${left - s * 2} ${-top - s * 2.4} ${right - left + s * 8} ${high + s * 9.4}`
})

interface Line {
  key: string
  from: [number, number]
  to: [number, number]
}

const lines = computed<Line[]>(() => {
  const s = size.value
  const edge = props.outline.edge_length_mm
  const height = props.outline.height_heel_mm
  const butt = edge - props.outline.overall_length_mm
  const handle = props.figures.handle_length?.mean ?? 0
  const low = foot.value
  const rows: Line[] = [
    { key: 'edge_length', from: [0, low - 2 * s], to: [edge, low - 2 * s] },
    { key: 'overall_length', from: [butt, low - 4.4 * s], to: [edge, low - 4.4 * s] },
    { key: 'handle_length', from: [butt, low - 2 * s], to: [butt + handle, low - 2 * s] },
    { key: 'height_heel', from: [edge + s, 0], to: [edge + s, height] },
  ]
  return rows
})

const shown = computed(() =>
  lines.value.flatMap((line) => {
    const figure = props.figures[line.key]
    return figure ? [{ ...line, text: meanText(figure) }] : []
  }),
)
const spines = computed(() => {
  const edge = props.outline.edge_length_mm
  const stations: [string, number][] = [
    ['spine_heel', 0],
    ['spine_mid', edge / 2],
    ['spine_tip', edge - 10],
  ]
  return stations.flatMap(([key, x]) => {
    const figure = props.figures[key]
    return figure ? [{ key, x, text: meanText(figure), y: spineAt(x) }] : []
  })
})

/** Height of the drawn spine above a place along the blade. */
function spineAt(x: number): number {
  const near = props.outline.blade.filter(([px]) => Math.abs((px ?? 0) - x) < 8)
  return Math.max(...near.map(([, y]) => y ?? 0), 0)
}

const balance = computed(() => props.figures.balance_point)
</script>

<template>
  <svg class="elevation" :viewBox="box" role="img" aria-label="Dimensioned drawing of the knife">
    <KnifeShape :outline="outline" />
    <DimensionLine
      v-for="line in shown"
      :key="line.key"
      :from="line.from"
      :to="line.to"
      :text="line.text"
      :size="size"
      :lit="lit === line.key"
    />
    <g v-for="spine in spines" :key="spine.key" class="spine" :class="{ lit: lit === spine.key }">
      <line :x1="spine.x" :x2="spine.x" :y1="-spine.y - 1" :y2="-spine.y - size * 0.7" />
      <text :x="spine.x" :y="-spine.y - size * 0.95" :font-size="size" text-anchor="middle">
        {{ spine.text }}
      </text>
    </g>
    <g v-if="balance" class="balance" :class="{ lit: lit === 'balance_point' }">
      <path
        :d="`M${balance.mean} ${-outline.height_heel_mm * 0.5}l${size * 0.5} ${size * 0.9}h${-size}z`"
      />
      <title>balance point, {{ meanText(balance) }} mm from the heel</title>
    </g>
    <ScaleBar :x="around.left" :y="-foot + size * 6.6" :length="50" :size="size * 0.85" />
  </svg>
</template>

<style scoped>
.elevation {
  display: block;
  width: 100%;
  max-height: 300px;
}

.spine line {
  stroke: var(--soft-ink);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.spine text {
  fill: var(--ink);
  font-family: var(--sans);
}

.spine.lit line,
.balance.lit path {
  stroke: var(--measured);
  stroke-width: 2;
}

.spine.lit text {
  fill: var(--measured);
  font-weight: 600;
}

.balance path {
  fill: var(--derived);
}
</style>
