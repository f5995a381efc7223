<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { computed, ref } from 'vue'
import type { HeightOut, ProfileOut } from '@/api/schema'
import { rounded } from '@/parts/numbers'

/** The blade as the photo shows it, laid on the board, with its height anywhere along the edge. */
const props = defineProps<{ profile: ProfileOut; heights: HeightOut[] }>()

const length = computed(() => props.profile.length_mm)
const at = ref(Math.round(length.value / 2))
const rise = computed(() => between(props.profile.edge, at.value))
const height = computed(() =>
  between(
    props.heights.map((h) => [h.at_mm, h.height_mm]),
    at.value,
  ),
)

function between(rows: number[][], x: number): number {
  const k = Math.max(
    1,
    rows.findIndex((row) => (row[0] ?? 0) >= x),
  )
  const [a = [0, 0], b = [0, 0]] = [rows[k - 1], rows[k]]
  const share = (x - a[0]!) / Math.max(b[0]! - a[0]!, 1e-6)
  return a[1]! + Math.min(Math.max(share, 0), 1) * (b[1]! - a[1]!)
}

const shape = computed(() => {
  const edge = props.profile.edge
  const spine = props.heights.map((h) => [h.at_mm, between(edge, h.at_mm) + h.height_mm])
  const ring = [...edge, ...spine.reverse()]
  return `M${ring.map(([x, y]) => `${(x ?? 0).toFixed(2)} ${(-(y ?? 0)).toFixed(2)}`).join('L')}Z`
})
const tall = computed(() => Math.max(...props.heights.map((h) => h.height_mm)))
const size = computed(() => length.value / 58)
const box = computed(
  () => `-4 ${-tall.value - 6} ${length.value + 8} ${tall.value + 8 + 3.4 * size.value}`,
)
const flat = computed(() => props.profile.flat as [number, number])
</script>

<template>
  <figure class="profile">
    <svg :viewBox="box" role="img" aria-label="The blade as the photo shows it, on the board">
      <line x1="-4" :x2="length + 4" y1="0" y2="0" class="board" />
      <path :d="shape" class="blade" />
      <line :x1="flat[0]" :x2="flat[1]" :y1="size" :y2="size" class="flat" />
      <text :x="flat[1] + size" :y="1.45 * size" :font-size="1.25 * size">
        flat, within 0.3 mm: {{ rounded(profile.flat_length_mm, 0) }} mm
      </text>
      <g class="dimension">
        <line :x1="at" :x2="at" :y1="-rise" :y2="-rise - height" />
        <line :x1="at - 1.5" :x2="at + 1.5" :y1="-rise" :y2="-rise" />
        <line :x1="at - 1.5" :x2="at + 1.5" :y1="-rise - height" :y2="-rise - height" />
      </g>
      <text
        :x="at + (at > 0.85 * length ? -size : size)"
        :y="-rise - height / 2 + 0.4 * size"
        :font-size="1.5 * size"
        :text-anchor="at > 0.85 * length ? 'end' : 'start'"
        class="value"
      >
        {{ rounded(height, 1) }} mm
      </text>
    </svg>
    <figcaption class="small">
      <label class="height">
        height at
        <input
          v-model.number="at"
          type="range"
          min="0"
          :max="Math.floor(length)"
          aria-label="Distance from the heel, mm"
        />
        {{ at }} mm from the heel: <b>{{ rounded(height, 1) }} mm</b>
      </label>
      <span>
        <b>{{ labelOf('ProfileClass', profile.kind) }}</b>: {{ profile.reasons.join(', ') }}.
        <span v-if="profile.hollow" class="rust">
          ⚠ hollow of {{ rounded(profile.hollow.gap_mm, 2) }} mm at
          {{ rounded(profile.hollow.at_mm, 0) }} mm
        </span>
      </span>
    </figcaption>
  </figure>
</template>

<style scoped>
.profile {
  margin: 10px 0 0;
}

svg {
  display: block;
  width: 100%;
  max-height: 240px;
}

line,
path {
  fill: none;
  vector-effect: non-scaling-stroke;
}

.board {
  stroke: var(--soft-ink);
  stroke-width: 1.5;
}

.blade {
  fill: var(--steel-fill);
  stroke: var(--ink);
  stroke-width: 1;
}

.flat {
  stroke: var(--derived);
  stroke-width: 3;
}

.dimension line {
  stroke: var(--measured);
  stroke-width: 1.5;
}

text {
  fill: var(--ink);
}

.value {
  fill: var(--measured);
  font-weight: 600;
}

figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 24px;
  padding-top: 4px;
}

.height input {
  vertical-align: middle;
  width: 180px;
}
</style>
