<script setup lang="ts">
import { computed, ref } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import type { Stock } from '@/api/schema'
import { answer, profile } from './profile'

/** Knives the customer has: by type and length, or by the tag of one that the shop knows. */
const MOST = 12
const EVERYWHERE: Stock[] = ['on_shelf', 'reserved', 'sold', 'returned']
const { types, typeLabel } = useCatalogue()
const type = ref('gyuto')
const text = ref('')
const unknown = ref('')
const choices = computed(() =>
  [...types.value.values()].map((t) => ({ value: t.key, title: t.label })),
)
const length = computed(() => Number(text.value.trim().replace(',', '.')))
const mayAdd = computed(() => {
  const typed = text.value.trim()
  const fits = Number.isNaN(length.value) || (length.value >= 20 && length.value <= 600)
  return typed !== '' && fits && profile.owned.length < MOST
})

function put(knife: (typeof profile.owned)[number]): void {
  answer({ owned: [...profile.owned, knife] })
  text.value = ''
}

async function add(): Promise<void> {
  unknown.value = ''
  if (!mayAdd.value) return
  if (!Number.isNaN(length.value)) put({ knife_type: type.value, length_mm: length.value })
  else await addByTag(text.value.trim())
}

/** One of the shop's, whether it is sold or not. */
async function addByTag(tag: string): Promise<void> {
  const found = await data(
    api.GET('/api/rack', { params: { query: { search: tag, stock: EVERYWHERE } } }),
  )
  const row = found.rows.find((r) => r.piece.tag.toLowerCase() === tag.toLowerCase())
  if (!row) {
    unknown.value = `No knife has the tag ${tag}.`
    return
  }
  const { id, knife_type, nominal_mm } = row.piece
  const measured = row.figures.edge_length?.mean ?? nominal_mm
  put({ knife_type, length_mm: Math.round(measured), piece_id: id })
}
const drop = (at: number) => answer({ owned: profile.owned.filter((_, i) => i !== at) })
</script>

<template>
  <fieldset class="owned">
    <legend class="legend">Which knives do they own already?</legend>
    <span v-for="(knife, i) in profile.owned" :key="i" class="known">
      {{ typeLabel(knife.knife_type) }} {{ knife.length_mm }} mm
      <button
        type="button"
        class="plain soft"
        :aria-label="`Remove ${typeLabel(knife.knife_type)} ${knife.length_mm} mm`"
        @click="drop(i)"
      >
        ×
      </button>
    </span>
    <div class="add">
      <v-select v-model="type" :items="choices" label="type" />
      <v-text-field
        v-model="text"
        label="edge in mm, or a tag"
        maxlength="40"
        @keydown.enter.prevent="add"
      />
      <v-btn :disabled="!mayAdd" @click="add">Add</v-btn>
      <span v-if="unknown" class="rust" role="alert">{{ unknown }}</span>
    </div>
  </fieldset>
</template>

<style scoped>
.owned {
  border: 0;
  margin: 0;
  padding: 0 0 2px;
}

.legend {
  color: var(--soft-ink);
  font-size: var(--size-s);
  padding: 6px 0 2px;
}

.known {
  display: inline-flex;
  align-items: baseline;
  gap: 4px;
  margin-right: 12px;
}

.add {
  display: flex;
  margin-top: 6px;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}

.add > .v-input {
  min-width: 150px;
  flex: 1 1 150px;
  max-width: 240px;
}
</style>
