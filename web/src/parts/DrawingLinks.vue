<script setup lang="ts">
import { scheme } from '@/theme/scheme'

/** Drawings to take away: SVG files in mm, and pictures in the scheme that is on. */
const props = defineProps<{ pieces: number[] }>()

const VIEWS = ['elevation', 'section', 'plan', 'profile'] as const

function address(view: string, ends: string): string {
  const [only] = props.pieces
  const query = ends === 'png' ? [`scheme=${scheme.value}`] : []
  if (props.pieces.length > 1) query.unshift(...props.pieces.map((id) => `piece=${id}`))
  const place = props.pieces.length > 1 ? 'board' : `pieces/${only}`
  return `/api/${place}/drawings/${view}.${ends}${query.length ? `?${query.join('&')}` : ''}`
}
</script>

<template>
  <span class="links small no-print">
    <span class="soft">SVG in mm:</span>
    <a v-for="view in VIEWS" :key="view" :href="address(view, 'svg')" download>{{ view }}</a>
    <span class="soft">PNG:</span>
    <a
      v-for="view in VIEWS"
      :key="view"
      :href="address(view, 'png')"
      :aria-label="`${view} as PNG`"
      download
      >{{ view }}</a
    >
  </span>
</template>

<style scoped>
.links {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 10px;
}
</style>
