<script setup lang="ts">
import { computed } from 'vue'
import type { StackOut } from '@/api/schema'
import { lifeSize, pxPerMm } from '@/parts/life'
import { rounded } from '@/parts/numbers'
import ScaleBar from './ScaleBar.vue'

/**
 * A section laid on the stone, or against an upright rod, at its angle and true scale: one user
 * unit is one millimetre. Spacers stand under the spine where there are any.
 */
const props = defineProps<{
  section: number[][]
  angle: number
  face: 'right' | 'left'
  lift: number | null
  stack?: StackOut | null
  upright?: boolean
  title: string
}>()

const DEEP = 7
const text = computed(() => (props.upright ? 3.8 : 2.3))
const rad = computed(() => (props.angle * Math.PI) / 180)
/** Along the stone and above it; for a rod, up along it and off it. */
const laid = computed(() =>
  props.section.map(([x = 0, z = 0]) => {
    const out = props.face === 'right' ? x : -x
    return [
      z * Math.cos(rad.value) + out * Math.sin(rad.value),
      z * Math.sin(rad.value) - out * Math.cos(rad.value),
    ] as const
  }),
)
const at = ([along, above]: readonly [number, number]): [number, number] =>
  props.upright ? [above, -along] : [along, -above]
const path = computed(
  () =>
    `M${laid.value
      .map((p) =>
        at(p)
          .map((v) => v.toFixed(3))
          .join(' '),
      )
      .join('L')}Z`,
)
const far = computed(() => Math.max(...laid.value.map(([along]) => along)))
/** The spine's corner nearest the stone. */
const spine = computed(() => {
  const ends = laid.value.filter(([along]) => along > far.value - 12)
  return ends.reduce((low, p) => (p[1] < low[1] ? p : low))
})
const size = computed(() => ({ along: far.value + 26, above: Math.max(16, spine.value[1] + 6) }))
const box = computed(() =>
  props.upright
    ? {
        x: -DEEP - 16,
        y: -size.value.along + 4,
        w: size.value.above + 40,
        h: size.value.along + 10,
      }
    : { x: -16, y: -size.value.above, w: size.value.along + 20, h: size.value.above + DEEP + 9 },
)
function bar(from: number, to: number, low: number, high: number): string {
  const corners = [
    [from, low],
    [to, low],
    [to, high],
    [from, high],
  ] as const
  return `M${corners.map((c) => at(c).join(' ')).join('L')}Z`
}
const arc = computed(() => {
  const r = 15
  const [x0, y0] = at([r, 0])
  const [x1, y1] = at([r * Math.cos(rad.value), r * Math.sin(rad.value)])
  return `M${x0} ${y0}A${r} ${r} 0 0 ${props.upright ? 1 : 0} ${x1} ${y1}`
})
const liftEnds = computed(() => {
  const along = spine.value[0]
  return { low: at([along, 0]), high: at([along, spine.value[1]]) }
})
const width = computed(() => (lifeSize.value ? `${box.value.w * pxPerMm.value}px` : '100%'))
</script>

<template>
  <svg
    class="on-the-stone"
    :viewBox="`${box.x} ${box.y} ${box.w} ${box.h}`"
    :style="{ width }"
    role="img"
    :aria-label="title"
  >
    <path class="stone" :d="bar(-12, size.along + (upright ? -8 : 2), -DEEP, 0)" />
    <path
      v-if="stack && lift && !upright"
      class="stack"
      :d="bar(spine[0] - 2, spine[0] + 12, 0, stack.height_mm)"
    />
    <path class="steel" :d="path" />
    <g v-if="lift !== null" class="dimension">
      <path class="arc" :d="arc" />
      <text v-if="upright" x="2" :y="text * 1.6" :font-size="text">{{ rounded(angle, 1) }}°</text>
      <text v-else x="-1.5" y="-1.2" :font-size="text" text-anchor="end">
        {{ rounded(angle, 1) }}°
      </text>
      <line
        :x1="liftEnds.low[0]"
        :y1="liftEnds.low[1]"
        :x2="liftEnds.high[0]"
        :y2="liftEnds.high[1]"
      />
      <text
        v-if="!upright"
        :x="spine[0] + (stack ? 13.5 : 2)"
        :y="-lift / 2 + text * 0.35"
        :font-size="text"
      >
        {{ rounded(lift, 1) }} mm
      </text>
      <text v-else x="1" :y="liftEnds.high[1] - 2" :font-size="text">
        {{ rounded(lift, 1) }} mm
      </text>
    </g>
    <ScaleBar v-if="!upright" :x="-14" :y="DEEP + 7" :length="10" :size="text" />
    <ScaleBar v-else :x="box.x + 1" :y="box.y + box.h - 2" :length="10" :size="text" />
  </svg>
</template>

<style scoped>
.on-the-stone {
  display: block;
  max-height: 270px;
}

.steel {
  fill: var(--steel-fill);
  stroke: var(--ink);
  stroke-width: 1.3;
  stroke-linejoin: round;
  vector-effect: non-scaling-stroke;
}

.stone {
  fill: color-mix(in srgb, var(--soft-ink) 28%, var(--ground));
  stroke: var(--soft-ink);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.stack {
  fill: color-mix(in srgb, var(--derived) 35%, var(--ground));
  stroke: var(--derived);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.dimension line,
.arc {
  fill: none;
  stroke: var(--derived);
  stroke-width: 1.4;
  vector-effect: non-scaling-stroke;
}

text {
  fill: var(--ink);
  font-family: var(--sans);
  font-weight: 600;
  paint-order: stroke;
  stroke: var(--ground);
  stroke-width: 0.25em;
}
</style>
