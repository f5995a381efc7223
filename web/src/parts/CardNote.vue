<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'

/** How a figure is computed: its model card, folded away until it is asked for. */
const props = defineProps<{ card: string }>()

const { catalogue } = useCatalogue()
const shown = computed(() => catalogue.value?.cards[props.card])
</script>

<template>
  <details v-if="shown" class="small no-print">
    <summary>
      How this is computed
      <span class="unit">grade {{ shown.grade }}, {{ shown.grade_label }}</span>
    </summary>
    <p class="number">{{ shown.equation }}</p>
    <p>{{ shown.source }}</p>
    <p>{{ shown.valid }}</p>
    <ul>
      <li v-for="line in shown.assumptions" :key="line">{{ line }}</li>
    </ul>
  </details>
</template>

<style scoped>
details {
  max-width: 900px;
}

summary {
  cursor: pointer;
  padding: 4px 0;
}

.number {
  text-align: left;
  white-space: normal;
}

p,
ul {
  margin: 4px 0;
}
</style>
