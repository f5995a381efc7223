<script setup lang="ts">
import { computed } from 'vue'
import type { KnifeMark } from '@/parts/letters'

/** Where the edge touches the board as the handle comes up, heel to tip, one line per knife. */
const props = defineProps<{
  lines: { rock: readonly (readonly number[])[]; length: number; style?: KnifeMark }[]
}>()

const WIDE = 300
const TALL = 140
const longest = computed(() => Math.max(...props.lines.map((l) => l.length), 1))
const steepest = computed(
  () => Math.ceil(Math.max(...props.lines.flatMap((l) => l.rock.map((r) => r[0] ?? 0)), 5) / 5) * 5,
)
const x = (mm: number) => (mm / longest.value) * WIDE
const y = (deg: number) => TALL - (deg / steepest.value) * TALL
const path = (rock: readonly (readonly number[])[]) =>
  `M${rock.map(([deg, mm]) => `${x(mm ?? 0).toFixed(1)} ${y(deg ?? 0).toFixed(1)}`).join('L')}`
const end = (rock: readonly (readonly number[])[]) => rock[rock.length - 1] ?? [0, 0]
const lengths = computed(() => [0, 100, 200, 300].filter((v) => v <= longest.value))
const raises = computed(() => {
  const step = steepest.value > 20 ? 10 : 5
  return Array.from({ length: steepest.value / step + 1 }, (_, i) => i * step)
})
</script>

<template>
  <svg
    class="rock"
    :viewBox="`-30 -10 ${WIDE + 48} ${TALL + 42}`"
    role="img"
    aria-label="Contact on the board against the raise of the handle"
  >
    <g class="grid">
      <line v-for="d in raises" :key="d" x1="0" :x2="WIDE" :y1="y(d)" :y2="y(d)" />
      <text v-for="d in raises" :key="`t${d}`" x="-5" :y="y(d) + 3.5" text-anchor="end">
        {{ d }}°
      </text>
      <text v-for="mm in lengths" :key="`l${mm}`" :x="x(mm)" :y="TALL + 14" text-anchor="middle">
        {{ mm }}
      </text>
      <text :x="WIDE / 2" :y="TALL + 28" text-anchor="middle">contact, mm from the heel</text>
    </g>
    <g v-for="(line, i) in lines" :key="i">
      <path
        :d="path(line.rock)"
        :stroke="line.style?.colour ?? 'var(--derived)'"
        :stroke-dasharray="line.style?.dash"
      />
      <text
        v-if="line.style"
        class="letter"
        :x="x(end(line.rock)[1] ?? 0) + 3"
        :y="y(end(line.rock)[0] ?? 0) + 3"
        :fill="line.style.colour"
      >
        {{ line.style.letter }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.rock {
  display: block;
  width: 100%;
  max-width: 460px;
}

path {
  fill: none;
  stroke-width: 1.8;
  vector-effect: non-scaling-stroke;
}

.grid text {
  fill: var(--soft-ink);
  font: 12px var(--sans);
}

.letter {
  font: 600 13px var(--sans);
}
</style>
