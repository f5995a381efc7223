<script setup lang="ts">
import { computed } from 'vue'
import type { SectionOut } from '@/api/schema'
import { rounded } from '@/parts/numbers'

/**
 * One section seen from the heel, edge down, with the thickness at 1, 5 and 10 mm. `stretch` draws
 * thickness larger so that the faces can be told apart; 1 is the true shape.
 */
const props = defineProps<{ section: SectionOut; stretch: number; tallest: number }>()

const half = computed(() => {
  const xs = props.section.polygon.map(([x]) => x ?? 0)
  return [Math.min(...xs) * props.stretch, Math.max(...xs) * props.stretch] as const
})
const wide = computed(() => Math.max(half.value[1] - half.value[0], 4))
const text = computed(() => props.tallest / 13)
const box = computed(() => {
  const left = half.value[0] - text.value * 0.6
  return `${left} ${-props.tallest - 2} ${wide.value + text.value * 7.5} ${props.tallest + 5}`
})
const path = computed(
  () =>
    `M${props.section.polygon
      .map(([x, z]) => `${((x ?? 0) * props.stretch).toFixed(3)} ${(-(z ?? 0)).toFixed(3)}`)
      .join('L')}Z`,
)
const rungs = computed(() =>
  Object.entries(props.section.thickness_mm).map(([z, t]) => ({
    z: Number(z),
    text: `${rounded(t, 2)}`,
  })),
)
/** Texts keep a line's distance; the 1 mm rung's stands lowest. */
const shown = computed(() => {
  let above = -Infinity
  return rungs.value.map((rung) => {
    const at = Math.max(rung.z, above + text.value)
    above = at
    return { ...rung, at }
  })
})
</script>

<template>
  <figure class="view">
    <svg
      :viewBox="box"
      role="img"
      :aria-label="`Section ${section.label}, ${rounded(section.at_mm, 0)} mm from the heel`"
    >
      <line :x1="half[0] - 2" :x2="half[1] + 2" y1="0" y2="0" class="board" />
      <line x1="0" x2="0" y1="0" :y2="-tallest" class="centre" />
      <path :d="path" />
      <g v-for="rung in shown" :key="rung.z" class="rung">
        <line :x1="half[0]" :x2="half[1] + text * 0.3" :y1="-rung.z" :y2="-rung.z" />
        <text :x="half[1] + text * 0.6" :y="-rung.at + text * 0.35" :font-size="text">
          {{ rung.text }}
          <tspan class="soft">at {{ rung.z }}</tspan>
        </text>
      </g>
    </svg>
    <figcaption class="small">
      <b>{{ section.label }}</b>
      <span class="soft">
        faces {{ rounded(section.wedge_angle_deg, 1) }}° · area
        {{ rounded(section.area_mm2, 0) }} mm²<template v-if="section.wheel_radius_mm">
          · hollow of {{ rounded(section.wheel_radius_mm / 1000, 1) }} m radius</template
        >
      </span>
    </figcaption>
  </figure>
</template>

<style scoped>
.view {
  margin: 0;
  min-width: 0;
}

svg {
  display: block;
  width: 100%;
  height: 210px;
}

path {
  fill: var(--steel-fill);
  stroke: var(--ink);
  stroke-width: 1.4;
  stroke-linejoin: round;
  vector-effect: non-scaling-stroke;
}

.board,
.centre,
.rung line {
  stroke: var(--hairline);
  stroke-width: 1;
  vector-effect: non-scaling-stroke;
}

.rung line {
  stroke: var(--soft-ink);
  stroke-width: 0.7;
}

.centre {
  stroke-dasharray: 6 3 1 3;
}

text {
  fill: var(--ink);
  font-family: var(--sans);
}

tspan {
  fill: var(--soft-ink);
}

figcaption {
  display: flex;
  flex-direction: column;
}
</style>
