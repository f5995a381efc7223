<script setup lang="ts">
import { useCatalogue } from '@/api/catalogue'
import type { Waiting } from './queue'

/** Readings the server would not take, with its reason; none is dropped without a person. */
defineProps<{ readings: Waiting[] }>()
defineEmits<{ discard: [clientId: string] }>()

const { quantities } = useCatalogue()
</script>

<template>
  <ul v-if="readings.length" class="refused small">
    <li v-for="r in readings" :key="r.body.client_id">
      <span>Kept here: {{ quantities.get(r.body.quantity)?.label }} {{ r.body.typed }}.</span>
      <span class="soft">{{ r.refused }}</span>
      <button type="button" class="plain" @click="$emit('discard', r.body.client_id)">
        discard
      </button>
    </li>
  </ul>
</template>

<style scoped>
.refused {
  margin: 0 0 8px;
  padding-left: 18px;
}

li > * + * {
  margin-left: 6px;
}

button {
  text-decoration: underline !important;
}
</style>
