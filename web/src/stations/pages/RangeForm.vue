<script setup lang="ts">
import { computed } from 'vue'
import { items, useCatalogue } from '@/api/catalogue'
import type { Choice, RangeContent } from '@/api/schema'

/** Which knives a range has, and which columns its table. */
const props = defineProps<{ columns: Choice[] }>()
const content = defineModel<RangeContent>({ required: true })

const { catalogue } = useCatalogue()
const types = computed(() =>
  (catalogue.value?.knife_types ?? []).map((t) => ({ value: t.key as string, title: t.label })),
)
const figures = computed(() => items(props.columns))
</script>

<template>
  <section aria-labelledby="range-head">
    <h2 id="range-head">Knives and columns</h2>
    <v-text-field v-model="content.search" label="Maker or search words" maxlength="160" />
    <v-autocomplete v-model="content.knife_types" :items="types" label="Types" multiple chips />
    <v-autocomplete
      v-model="content.columns"
      :items="figures"
      label="Measured figures, at most eight"
      multiple
      chips
    />
    <v-checkbox v-model="content.predictions" label="Cutting ease and months to the stone" />
    <v-checkbox v-model="content.price" label="Price" />
    <v-checkbox v-model="content.glossary" label="How to read this" />
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 10px;
}
</style>
