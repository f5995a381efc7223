<script setup lang="ts">
import { ref } from 'vue'
import { addressOf } from '@/api/base'
import { scheme } from '@/theme/scheme'

/** Drawings to take away: SVG files in mm, and pictures in the scheme that is on. */
const props = defineProps<{ pieces: number[] }>()

const png = ref(false)
const VIEWS = ['elevation', 'section', 'plan', 'profile'] as const

function address(view: string): string {
  const ends = png.value ? 'png' : 'svg'
  const [only] = props.pieces
  const query = png.value ? [`scheme=${scheme.value}`] : []
  if (props.pieces.length > 1) query.unshift(...props.pieces.map((id) => `piece=${id}`))
  const place = props.pieces.length > 1 ? 'board' : `pieces/${only}`
  return addressOf(
    `/api/${place}/drawings/${view}.${ends}${query.length ? `?${query.join('&')}` : ''}`,
  )
}
</script>

<template>
  <span class="links small no-print">
    <span class="soft">{{ png ? 'PNG:' : 'SVG in mm:' }}</span>
    <a v-for="view in VIEWS" :key="view" :href="address(view)" download>{{ view }}</a>
    <button type="button" class="plain link" @click="png = !png">
      {{ png ? 'as SVG' : 'as PNG' }}
    </button>
  </span>
</template>

<style scoped>
.links {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 10px;
}
</style>
