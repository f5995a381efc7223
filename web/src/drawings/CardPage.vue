<script setup lang="ts">
import { computed } from 'vue'
import type { OutlineOut } from '@/api/schema'
import KnifeShape from '@/drawings/KnifeShape.vue'
import { extent } from '@/drawings/paths'
import ScaleBar from '@/drawings/ScaleBar.vue'

/** One printed page that goes with a knife: the shop, a title, the knife as drawn, what is said. */
const props = defineProps<{ shop: string; place: string; title: string; outline: OutlineOut }>()

const box = computed(() => {
  const { left, right, top, bottom } = extent(props.outline)
  const low = Math.min(bottom, 0) - 18
  return { left, low, text: `${left - 3} ${-top - 3} ${right - left + 6} ${top - low + 3}` }
})
</script>

<template>
  <article class="card">
    <slot name="actions" />
    <p class="soft">
      {{ shop }}<template v-if="place">, {{ place }}</template>
    </p>
    <h2 class="title">{{ title }}</h2>
    <slot name="about" />
    <svg :viewBox="box.text" role="img" aria-label="The knife, as measured">
      <KnifeShape :outline="outline" />
      <ScaleBar :x="box.left" :y="-box.low - 4" :length="50" :size="8" />
    </svg>
    <slot />
  </article>
</template>

<style scoped>
.card {
  max-width: 820px;
  padding: 10px 24px 20px;
  background: var(--panel);
  border: 1px solid var(--hairline);
}

.title {
  margin: 0;
  padding: 0;
  border: 0;
  font-size: var(--size-xl);
}

.card > :deep(p) {
  margin: 2px 0;
}

svg {
  width: 100%;
  max-height: 160px;
  margin: 10px 0 4px;
}

.card :deep(.columns) {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 30px;
}

.card :deep(section) {
  margin-top: 14px;
  break-inside: avoid;
}

.card :deep(ul) {
  margin: 4px 0;
  padding-left: 18px;
}

.card :deep(li) {
  margin: 2px 0;
}

@media (max-width: 699px) {
  .card :deep(.columns) {
    grid-template-columns: 1fr;
  }
}

@media print {
  .card {
    max-width: none;
    padding: 0;
    border: 0;
    background: none;
    font-size: 11pt;
  }
}
</style>
