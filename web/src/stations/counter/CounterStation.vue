<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import CardNote from '@/parts/CardNote.vue'
import { profile, useConversation } from '@/parts/profile'
import ProfileForm from '@/parts/ProfileForm.vue'
import PriceFront from '@/parts/PriceFront.vue'
import SchoolToggles from '@/parts/SchoolToggles.vue'
import BehindNote from '@/parts/BehindNote.vue'
import StateNote from '@/parts/StateNote.vue'
import OfferRow from './OfferRow.vue'

/** A customer's habits in, by taps; a reasoned short list out, at once. */
const { asked } = useConversation()
const advice = useQuery({
  queryKey: computed(() => ['counter', 'advice', { ...profile, shares: { ...profile.shares } }]),
  placeholderData: keepPreviousData,
  queryFn: () => data(api.POST('/api/counter/advice', { body: { ...profile } })),
})
const found = computed(() => advice.data.value)
/** Other answers that bring the same knife to the top are told together. */
const changes = computed(() => {
  const byKnife = new Map<number, { id: number; name: string; answers: string[] }>()
  for (const { answer, piece_id, name } of found.value?.changes ?? []) {
    const known = byKnife.get(piece_id) ?? { id: piece_id, name, answers: [] }
    known.answers.push(answer)
    byKnife.set(piece_id, known)
  }
  return [...byKnife.values()]
})
const priced = computed(() =>
  (found.value?.priced ?? []).map((k) => ({
    mark: k.place === null ? '·' : String(k.place),
    colour: k.place === null ? 'var(--soft-ink)' : 'var(--predicted)',
    price: k.price,
    score: k.score,
    front: k.on_front,
    name: k.name,
  })),
)
const weighed = computed(() => (found.value?.weighings ?? []).slice(0, 3))
</script>

<template>
  <StateNote
    v-if="!asked.data.value"
    :error="asked.error.value"
    waiting="Coming to the counter…"
    :retry="() => asked.refetch()"
  />
  <div v-else class="counter">
    <section class="no-print" aria-label="The customer">
      <ProfileForm :asked="asked.data.value" />
    </section>

    <section aria-label="Short list" :class="{ stale: advice.isPlaceholderData.value }">
      <StateNote
        v-if="!found"
        :error="advice.error.value"
        waiting="Looking along the shelf…"
        :retry="() => advice.refetch()"
      />
      <template v-else>
        <h2>
          {{ profile.label || 'This customer' }}: {{ found.offers.length || 'nothing' }} of
          {{ found.considered.toLocaleString('en') }} knives
        </h2>
        <BehindNote :behind="found.behind" />
        <SchoolToggles :schools="asked.data.value.schools" class="no-print" />
        <p v-if="found.nothing" class="rust">⚠ {{ found.nothing }}</p>
        <p v-if="found.deciding" role="status">
          Between the first two, <b>{{ labelOf('Criterion', found.deciding) }}</b> decides.
          <template v-if="!changes.length"
            >No other single answer brings another knife first.</template
          >
        </p>
        <ul v-if="changes.length" class="changes" aria-label="What would change it">
          <li v-for="change in changes" :key="change.id">
            <RouterLink :to="`/sheet/${change.id}`">{{ change.name }}</RouterLink> would come first
            were it <b>{{ change.answers.join(', or ') }}</b>.
          </li>
        </ul>
        <ol class="offers">
          <OfferRow
            v-for="(offer, i) in found.offers"
            :key="offer.piece.id"
            :offer="offer"
            :place="i + 1"
            :currency="asked.data.value.currency"
          />
        </ol>
        <details v-if="found.ruled_out_total" class="no-print">
          <summary>{{ found.ruled_out_total }} ruled out, each with its reason</summary>
          <ul class="small">
            <li v-for="knife in found.ruled_out" :key="knife.piece_id">
              <RouterLink :to="`/sheet/${knife.piece_id}`">{{ knife.name }}</RouterLink>
              {{ knife.reasons.join(' ') }}
            </li>
          </ul>
        </details>
        <div v-if="priced.length > 1" class="priced">
          <PriceFront :knives="priced" :currency="asked.data.value.currency" />
          <div>
            <h3>Price against fit</h3>
            <p class="soft small">
              Numbered as in the list, with 90 % limits. The broken line joins the knives none beats
              in price and fit both.
            </p>
            <p v-for="w in weighed" :key="w.criterion" class="small">
              <b>{{ labelOf('Criterion', w.criterion) }}</b> would have to count
              {{ w.counting }} for {{ w.name }} to draw level.
            </p>
          </div>
        </div>
        <p v-for="caution in found.cautions" :key="caution" class="soft small">⚠ {{ caution }}</p>
        <CardNote card="suits" />
      </template>
    </section>
  </div>
</template>

<style scoped>
.counter {
  display: grid;
  grid-template-columns: minmax(0, 4fr) minmax(0, 8fr);
  gap: 32px;
}

.offers {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}

p {
  margin: 2px 0;
}

.changes {
  margin: 4px 0;
  padding-left: 18px;
}

summary {
  cursor: pointer;
  padding: 4px 0;
}

.priced {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 24px;
  align-items: start;
  margin-top: 12px;
}

.priced > div {
  flex: 1 1 180px;
}

@media (max-width: 699px) {
  .counter {
    grid-template-columns: minmax(0, 1fr);
  }
}

@media print {
  .counter {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
