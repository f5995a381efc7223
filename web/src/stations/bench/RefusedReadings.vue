<script setup lang="ts">
import { useCatalogue } from '@/api/catalogue'
import type { Waiting } from './queue'

/** What the server would not take, with its reason; nothing is dropped without a person. */
defineProps<{ entries: Waiting[] }>()
defineEmits<{
  discard: [id: string]
  over: [entry: Waiting]
  settle: [entry: Waiting, choice: 'keep' | 'take' | 'correct']
}>()

const { quantities, items } = useCatalogue()
const label = (key: string) =>
  quantities.value.get(key)?.label ?? items.value.get(key)?.label ?? key
</script>

<template>
  <ul v-if="entries.length" class="refused small" role="alert">
    <li v-for="entry in entries" :key="entry.id">
      <span>Kept here: {{ label(entry.key) }} {{ entry.words }}.</span>
      <span class="soft">{{ entry.refused }}</span>
      <button
        v-if="entry.what === 'observation'"
        type="button"
        class="plain"
        @click="$emit('over', entry)"
      >
        enter mine anyway
      </button>
      <template v-if="entry.what === 'reading'">
        <button
          v-if="entry.unusual"
          type="button"
          class="plain"
          @click="$emit('settle', entry, 'keep')"
        >
          keep it, marked
        </button>
        <button
          v-if="entry.suggestion"
          type="button"
          class="plain"
          @click="$emit('settle', entry, 'take')"
        >
          take {{ entry.suggestion }}
        </button>
        <button type="button" class="plain" @click="$emit('settle', entry, 'correct')">
          type it again
        </button>
      </template>
      <button type="button" class="plain" @click="$emit('discard', entry.id)">discard</button>
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
