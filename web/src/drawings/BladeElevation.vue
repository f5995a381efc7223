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
  /** Show only the dimension being taken, measured or not. */
  only?: boolean
  /** Pixels per mm, to draw it as large as it is. */
  life?: number | undefined
}>()

const size = computed(() =>
  Math.max(6, props.outline.overall_length_mm / (props.roomy ? 62 : props.only ? 30 : 26)),
)
const around = computed(() => extent(props.outline))
const foot = computed(() => Math.min(0, around.value.bottom))
const box = computed(
  () => `${frame.value.x} ${frame.value.y} ${frame.value.wide} ${frame.value.tall}`,
)
const frame = computed(() => {
  const s = size.value
  const { left, right, top, bottom } = around.value
  const high = top - Math.min(0, bottom)
  return { x: left - s * 2, y: -top - s * 2.4, wide: right - left + s * 8, tall: high + s * 9.4 }
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
  const drop = (x: number) => props.outline.blade.filter(([px]) => Math.abs((px ?? 0) - x) < 6)
  const lowest = (x: number) => Math.min(...drop(x).map(([, y]) => y ?? 0))
  const upright = (key: string, x: number): Line => ({
    key,
    from: [x, lowest(x)],
    to: [x, spineAt(x)],
  })
  const rows: Line[] = [
    { key: 'edge_length', from: [0, low - 2 * s], to: [edge, low - 2 * s] },
    { key: 'overall_length', from: [butt, low - 4.4 * s], to: [edge, low - 4.4 * s] },
    { key: 'handle_length', from: [butt, low - 2 * s], to: [butt + handle, low - 2 * s] },
    { key: 'blade_length', from: [-4, low - 2 * s], to: [edge, low - 2 * s] },
    ...(props.lit === 'height_mid' ? [upright('height_mid', edge / 2)] : []),
    ...(props.lit === 'height_front' ? [upright('height_front', edge * 0.8)] : []),
    { key: 'height_heel', from: [edge + s, 0], to: [edge + s, height] },
  ]
  return rows
})

const taken = (key: string) => props.figures[key] && (!props.only || key === props.lit)
const asked = (key: string) => key === props.lit && !props.figures[key]

const shown = computed(() =>
  lines.value.flatMap((line) => {
    const figure = props.figures[line.key]
    if (line.key === 'blade_length' && props.lit !== line.key) return []
    if (line.key === 'edge_length' && props.lit === 'blade_length') return []
    if (figure && taken(line.key)) return [{ ...line, text: meanText(figure) }]
    return asked(line.key) ? [{ ...line, text: '?' }] : []
  }),
)
const spines = computed(() => {
  const edge = props.outline.edge_length_mm
  const stations: [string, number][] = [
    ['spine_heel', 0],
    ['spine_mid', edge / 2],
    ['spine_tip', edge - 10],
  ]
  for (const key of Object.keys(props.figures)) {
    const [, mm, end] = /^spine_at@([\d.]+) mm from (tip|heel)$/.exec(key) ?? []
    if (mm) stations.push([key, end === 'tip' ? edge - Number(mm) : Number(mm)])
  }
  return stations.flatMap(([key, x]) => {
    const figure = props.figures[key]
    if (figure && taken(key)) return [{ key, x, text: meanText(figure), y: spineAt(x) }]
    return asked(key) ? [{ key, x, text: '?', y: spineAt(x) }] : []
  })
})

/** Where a quantity without a dimension line is taken: a spot on the blade. */
const spot = computed<[number, number] | null>(() => {
  const { edge_length_mm: edge, height_heel_mm: height } = props.outline
  switch (props.lit) {
    case 'thickness_behind_edge':
    case 'edge_angle':
    case 'asymmetry':
      return [edge / 2, 1.5]
    case 'hardness':
      return [edge * 0.3, height * 0.3]
    case 'balance_point':
      return [props.figures.balance_point?.mean ?? 15, height / 2]
    default:
      return null
  }
})

/** Height of the drawn spine above a place along the blade; the spine runs back from the tip. */
function spineAt(x: number): number {
  const points = props.outline.blade
  const tip = points.reduce((best, p, i) => ((p[0] ?? 0) >= (points[best]?.[0] ?? 0) ? i : best), 0)
  const spine = points.slice(tip)
  const at = spine.findIndex(([px]) => (px ?? 0) <= x)
  const [x1 = 0, y1 = 0] = spine[at] ?? []
  const [x0 = x1, y0 = y1] = spine[Math.max(0, at - 1)] ?? []
  return x0 === x1 ? y1 : y1 + ((y0 - y1) * (x - x1)) / (x0 - x1)
}

const balance = computed(() => props.figures.balance_point)
</script>

<template>
  <svg
    class="elevation"
    :viewBox="box"
    :style="life ? { width: `${frame.wide * life}px`, maxHeight: 'none' } : undefined"
    role="img"
    aria-label="Dimensioned drawing of the knife"
  >
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
    <g v-if="balance && !only" class="balance" :class="{ lit: lit === 'balance_point' }">
      <path
        :d="`M${balance.mean} ${-outline.height_heel_mm * 0.5}l${size * 0.5} ${size * 0.9}h${-size}z`"
      />
      <title>balance point, {{ meanText(balance) }} mm from the heel</title>
    </g>
    <circle v-if="lit && spot" class="spot" :cx="spot[0]" :cy="-spot[1]" :r="size * 0.6" />
    <ScaleBar
      v-if="!only"
      :x="around.left"
      :y="-foot + size * 6.6"
      :length="50"
      :size="size * 0.85"
    />
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

.spot {
  fill: none;
  stroke: var(--measured);
  stroke-width: 3;
  vector-effect: non-scaling-stroke;
}

.balance path {
  fill: var(--derived);
}
</style>
