<script setup lang="ts">
import { computed } from 'vue'
import { items, useCatalogue } from '@/api/catalogue'
import type { TrialKind } from '@/api/schema'
import type { ProtocolDraft } from './protocol'

/** What makes a trial repeatable; what is left empty breaks the protocol, and is said so. */
const draft = defineModel<ProtocolDraft>({ required: true })
const props = defineProps<{ kind: TrialKind }>()

const { catalogue } = useCatalogue()
const card = computed(() => props.kind === 'card')
const log = computed(() => props.kind === 'kitchen')
</script>

<template>
  <div class="fields">
    <v-text-field v-model="draft.edge_preparation" label="Edge prepared how" maxlength="80" />
    <v-text-field v-model="draft.angle" label="Angle, ° per side" inputmode="decimal" />
    <template v-if="!log">
      <v-text-field v-model="draft.grit" label="Grit" maxlength="80" />
      <v-text-field v-model="draft.medium" label="What is cut" maxlength="80" />
    </template>
    <template v-if="card">
      <v-text-field v-model="draft.load" label="Load, N" inputmode="decimal" />
      <v-text-field v-model="draft.stroke" label="Stroke, mm" inputmode="decimal" />
      <v-text-field v-model="draft.speed" label="Speed, mm/s" inputmode="decimal" />
    </template>
    <template v-if="log">
      <v-select v-model="draft.use" :items="items(catalogue?.uses)" label="Use" />
      <v-select v-model="draft.board" :items="items(catalogue?.boards)" label="Board" />
      <v-select v-model="draft.technique" :items="items(catalogue?.techniques)" label="Technique" />
      <v-checkbox v-model="draft.honed" label="honed regularly" />
    </template>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(170px, 1fr));
  gap: 10px;
}
</style>
