<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { computed } from 'vue'
import type { DueOut } from '@/api/schema'

/** A year from the last stone: each date with its 90 % limits, rod or strop as a row of ticks. */
const props = defineProps<{ dates: DueOut[]; since: string }>()

const WIDE = 640
const DAYS = 380
const SHAPES: Record<string, string> = {
  stone: 'M-5 5L5 5L0 -5Z',
  thinning: 'M-5 -5H5V5H-5Z',
  file_bolster: 'M0 -6L6 0L0 6L-6 0Z',
}
const MS = 86_400_000
const day = (iso: string) => (Date.parse(iso) - Date.parse(props.since)) / MS
const x = (iso: string) => Math.max(0, Math.min(1, day(iso) / DAYS)) * WIDE
const dated = computed(() => props.dates.filter((d) => d.every_days === null))
const repeated = computed(() => props.dates.find((d) => d.every_days !== null))
const ticks = computed(() => {
  const every = repeated.value?.every_days
  return every
    ? Array.from({ length: Math.floor(365 / every) }, (_, i) => ((i + 1) * every * WIDE) / DAYS)
    : []
})
const months = computed(() => {
  const first = new Date(props.since)
  return Array.from({ length: 12 }, (_, i) => {
    const at = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1 + i, 1))
    return { name: at.toLocaleDateString('en-GB', { month: 'short' }), x: x(at.toISOString()) }
  })
})
const today = computed(() => x(new Date().toISOString()))
</script>

<template>
  <svg class="year" :viewBox="`-4 -18 ${WIDE + 8} 76`" role="img" aria-label="Dates of a year">
    <g v-for="m in months" :key="m.x" class="month">
      <line :x1="m.x" :x2="m.x" y1="-4" y2="40" />
      <text :x="m.x + 3" y="54">{{ m.name }}</text>
    </g>
    <line class="now" :x1="today" :x2="today" y1="-6" y2="42" />
    <text class="now" :x="today" y="-8" text-anchor="middle">today</text>
    <line v-for="t in ticks" :key="t" class="tick" :x1="t" :x2="t" y1="32" y2="39" />
    <g v-for="(d, i) in dated" :key="i" class="date">
      <line
        v-if="d.care === 'stone' && i < 3"
        :x1="x(d.earliest)"
        :x2="x(d.latest)"
        y1="12"
        y2="12"
      />
      <path
        :d="SHAPES[d.care] ?? SHAPES.stone"
        :transform="`translate(${x(d.on)} ${d.care === 'stone' ? 12 : 24})`"
        :class="d.state"
      >
        <title>{{ labelOf('EdgeCare', d.care) }}, {{ d.on }}: {{ d.words }}</title>
      </path>
    </g>
  </svg>
</template>

<style scoped>
.year {
  display: block;
  width: 100%;
  max-width: 760px;
}

.month line {
  stroke: var(--hairline);
}

text {
  fill: var(--soft-ink);
  font: 12px var(--sans);
}

.now {
  stroke: var(--measured);
}

text.now {
  stroke: none;
  fill: var(--measured);
}

.tick {
  stroke: var(--soft-ink);
  stroke-width: 0.8;
}

.date line {
  stroke: var(--predicted);
  stroke-width: 3;
  opacity: 0.25;
}

.date path {
  fill: var(--predicted);
}

.date path.overdue {
  fill: var(--rust);
}
</style>
