<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import type { BenchSheetOut, QuantityOut } from '@/api/schema'

/** Who the knife is and what its maker printed; a claim is copied as printed. */
const props = defineProps<{ sheet: BenchSheetOut; locked: boolean }>()

const client = useQueryClient()
const { catalogue, quantities, typeLabel, grindLabel } = useCatalogue()
const claimed = ref<QuantityOut['key']>('hardness')
const printed = ref('')
const choices = computed(() =>
  [...quantities.value.values()]
    .filter((q) => q.claim_tolerance !== null)
    .map((q) => ({ value: q.key, title: q.label })),
)
const add = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/bench/sheets/{sheet_id}/claims', {
        params: { path: { sheet_id: props.sheet.id } },
        body: { quantity: claimed.value, printed: printed.value },
      }),
    ),
  onSuccess: (state) => {
    client.setQueryData(['bench-sheet', state.id], state)
    printed.value = ''
  },
})
const facts = computed(() => {
  const p = props.sheet.piece
  return [
    ['maker, line', `${p.maker} ${p.line}`],
    ['type, size', `${typeLabel(p.knife_type)} ${p.nominal_mm} mm nominal`],
    ['piece', `${p.tag}, ${p.condition}`],
    ['grind', grindLabel(p.grind)],
    ['steel', p.steel ?? 'not known'],
    ['price', p.price === null ? 'not known' : `${p.price} ${catalogue.value?.currency ?? ''}`],
  ]
})
</script>

<template>
  <section class="identify">
    <dl>
      <template v-for="[name, value] in facts" :key="name">
        <dt>{{ name }}</dt>
        <dd>{{ value }}</dd>
      </template>
      <dt>claims</dt>
      <dd v-if="!sheet.claims.length" class="soft">none copied</dd>
      <dd v-else>
        <span v-for="claim in sheet.claims" :key="claim.quantity" class="claim">
          {{ claim.label }} {{ claim.printed }}
        </span>
      </dd>
    </dl>
    <form v-if="!locked" @submit.prevent="add.mutate()">
      <v-select v-model="claimed" :items="choices" label="Claim on" hide-details />
      <v-text-field v-model="printed" label="As printed" maxlength="64" hide-details />
      <v-btn type="submit" :disabled="!printed.trim()">Copy</v-btn>
    </form>
    <p v-if="add.error.value" class="rust" role="alert">⚠ {{ add.error.value.message }}</p>
  </section>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 3px 10px;
  margin: 8px 0 12px;
}

dt {
  color: var(--soft-ink);
}

dd {
  margin: 0;
}

.claim + .claim::before {
  content: ' · ';
}

form {
  display: grid;
  grid-template-columns: 1fr 1fr auto;
  gap: 10px;
  align-items: center;
}
</style>
