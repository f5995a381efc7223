<script setup lang="ts">
import { computed } from 'vue'
import type { EdgeLifeOut } from '@/api/schema'
import type { KnifeMark } from '@/parts/letters'

/** Sharpness over 180 days: falls with use, a rod brings some back, a stone all of it. */
const props = defineProps<{ lines: { life: EdgeLifeOut; style?: KnifeMark }[] }>()

const WIDE = 560
const TALL = 150
const drawn = computed(() => props.lines.filter((l) => l.life.sharpness.length))
const days = computed(() => {
  const [first] = drawn.value
  return first ? (first.life.sharpness.length - 1) * first.life.step_days : 180
})
const x = (day: number) => (day / days.value) * WIDE
const y = (sharp: number) => TALL - (sharp / 100) * TALL
const path = (life: EdgeLifeOut) =>
  `M${life.sharpness.map((s, i) => `${x(i * life.step_days).toFixed(1)} ${y(s).toFixed(1)}`).join('L')}`

/** The letters at the right edge, kept a line apart. */
const letterAt = computed(() => {
  const ends = drawn.value.map((line, i) => ({ i, at: y(line.life.sharpness.at(-1) ?? 0) + 4 }))
  let above = -Infinity
  const placed: number[] = []
  for (const end of ends.sort((a, b) => a.at - b.at)) {
    above = Math.max(end.at, above + 12)
    placed[end.i] = above
  }
  return placed
})

/** Days of the stone, marked under the line. */
const stones = computed(() =>
  drawn.value.flatMap((line, row) => {
    const every = line.life.stone_every_days ?? Infinity
    const count = Math.floor(days.value / every)
    return Array.from({ length: count }, (_, i) => ({ day: (i + 1) * every, row, line }))
  }),
)
const months = computed(() => [0, 30, 60, 90, 120, 150, 180].filter((d) => d <= days.value))
</script>

<template>
  <svg
    v-if="drawn.length"
    class="saw"
    :viewBox="`-34 -10 ${WIDE + 50} ${TALL + 42 + 9 * drawn.length}`"
    role="img"
    aria-label="Sharpness over 180 days"
  >
    <g class="grid">
      <template v-for="s in [0, 25, 50, 75, 100]" :key="s">
        <line x1="0" :x2="WIDE" :y1="y(s)" :y2="y(s)" />
        <text x="-6" :y="y(s) + 4" text-anchor="end">{{ s }}</text>
      </template>
      <text
        v-for="d in months"
        :key="`d${d}`"
        :x="x(d)"
        :y="TALL + 16 + 9 * drawn.length"
        text-anchor="middle"
      >
        {{ d }}
      </text>
      <text :x="WIDE / 2" :y="TALL + 30 + 9 * drawn.length" text-anchor="middle">
        days of this kitchen
      </text>
    </g>
    <g v-for="(line, i) in drawn" :key="i">
      <path
        :d="path(line.life)"
        :stroke="line.style?.colour ?? 'var(--predicted)'"
        :stroke-dasharray="line.style?.dash"
      />
      <text
        v-if="line.style"
        class="letter"
        :x="WIDE + 4"
        :y="letterAt[i]"
        :fill="line.style.colour"
      >
        {{ line.style.letter }}
      </text>
    </g>
    <path
      v-for="(stone, i) in stones"
      :key="`s${i}`"
      class="stone"
      :d="`M${x(stone.day)} ${TALL + 3 + 9 * stone.row}l4 7h-8z`"
      :style="{ fill: stone.line.style?.colour }"
    />
  </svg>
</template>

<style scoped>
.saw {
  display: block;
  width: 100%;
  max-width: 680px;
}

path {
  fill: none;
  stroke-width: 1.3;
  vector-effect: non-scaling-stroke;
}

path.stone {
  fill: var(--predicted);
  stroke: none;
}

.grid text {
  fill: var(--soft-ink);
  font: 11px var(--sans);
}

.letter {
  font: 600 12px var(--sans);
}
</style>
