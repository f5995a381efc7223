<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { labelOf } from '@/api/catalogue'
import { api, data } from '@/api/client'
import type { Stock, StockOut } from '@/api/schema'

/** Where the piece is: on the shelf, reserved, sold or returned, and for whom by a label. */
const props = defineProps<{ pieceId: number; stock: StockOut; wishedFor: string[] }>()

const MOVES: Record<Stock, string> = {
  on_shelf: 'Put back on the shelf',
  reserved: 'Reserve',
  sold: 'Sell',
  returned: 'Return to maker',
  retired: 'Retire',
}
const ORDER: Stock[] = ['reserved', 'sold', 'returned', 'retired', 'on_shelf']

const queries = useQueryClient()
const going = ref<Stock | null>(null)
const customer = ref('')
const today = () => new Date().toLocaleDateString('sv-SE')
const on = ref(today())
const moving = useMutation({
  mutationFn: (state: Stock) =>
    data(
      api.PUT('/api/pieces/{piece_id}/stock', {
        params: { path: { piece_id: props.pieceId }, header: { 'If-Match': props.stock.etag } },
        body: { state, on: on.value || null, customer: customer.value.trim() },
      }),
    ),
  onSettled: () => queries.invalidateQueries(),
  onSuccess: () => (going.value = null),
})
const moves = computed(() => ORDER.filter((state) => state !== props.stock.state))
function ask(state: Stock): void {
  customer.value = state === 'sold' ? props.stock.customer : ''
  on.value = today()
  if (state === 'on_shelf') moving.mutate(state)
  else going.value = going.value === state ? null : state
}
</script>

<template>
  <section class="stock no-print" aria-label="Stock">
    <p>
      <b>{{ labelOf('Stock', stock.state) }}</b>
      <span class="soft">
        <template v-if="stock.on && stock.state !== 'on_shelf'"> since {{ stock.on }}</template>
        <template v-if="stock.customer"> · {{ stock.customer }}</template>
      </span>
      <span v-needs="'advise'" class="moves">
        <v-btn
          v-for="state in moves"
          :key="state"
          :aria-expanded="state === 'on_shelf' ? undefined : going === state"
          @click="ask(state)"
          >{{ MOVES[state] }}</v-btn
        >
      </span>
    </p>
    <p v-if="wishedFor.length">
      <span
        >Matches the wish of <b>{{ wishedFor.join(', ') }}</b> ·
        <RouterLink to="/counter">Counter</RouterLink></span
      >
    </p>
    <form v-if="going" class="form" @submit.prevent="moving.mutate(going)">
      <v-text-field v-model="on" type="date" label="on" />
      <v-text-field
        v-if="going === 'reserved' || going === 'sold'"
        v-model="customer"
        label="for whom, a label"
        maxlength="60"
      />
      <v-btn type="submit">{{ MOVES[going] }}</v-btn>
      <v-btn variant="text" @click="going = null">Cancel</v-btn>
    </form>
    <p v-if="moving.error.value" class="rust" role="alert">{{ moving.error.value.message }}</p>
  </section>
</template>

<style scoped>
.stock p {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  margin: 4px 0;
}

.moves {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 6px;
}

.form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 4px 0;
}

.form > .v-input {
  max-width: 260px;
}
</style>
