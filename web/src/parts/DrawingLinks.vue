<script setup lang="ts">
/** Drawings to take away: SVG files in mm. */
const props = defineProps<{ pieces: number[] }>()

const VIEWS = ['elevation', 'section', 'plan', 'profile'] as const

function address(view: string): string {
  const [only] = props.pieces
  if (props.pieces.length === 1) return `/api/pieces/${only}/drawings/${view}.svg`
  return `/api/board/drawings/${view}.svg?${props.pieces.map((id) => `piece=${id}`).join('&')}`
}
</script>

<template>
  <span class="links small no-print">
    <span class="soft">SVG in mm:</span>
    <a v-for="view in VIEWS" :key="view" :href="address(view)" download>{{ view }}</a>
  </span>
</template>

<style scoped>
.links {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 10px;
}
</style>
