<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import CardNote from '@/parts/CardNote.vue'
import PairAdvice from '@/strip/PairAdvice.vue'
import { asked as asAsked, profile, useConversation } from '@/parts/profile'
import ProfileForm from '@/parts/ProfileForm.vue'
import PriceFront from '@/parts/PriceFront.vue'
import SchoolToggles from '@/parts/SchoolToggles.vue'
import BehindNote from '@/parts/BehindNote.vue'
import StateNote from '@/parts/StateNote.vue'
import OfferRow from './OfferRow.vue'
import WantedKnife from './WantedKnife.vue'
import WishList from './WishList.vue'

/** A customer's needs, entered by taps, and the short list that follows at once. */
const AGAIN_MS = 2000
const { asked } = useConversation()
const advice = useQuery({
  queryKey: computed(() => ['counter', 'advice', asAsked()]),
  placeholderData: keepPreviousData,
  refetchInterval: (query) => (query.state.data?.behind ? AGAIN_MS : false),
  queryFn: () => data(api.POST('/api/counter/advice', { body: asAsked() })),
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
        <p v-if="found.deciding" role="status">
          Between the first two, <b>{{ labelOf('Criterion', found.deciding) }}</b> decides.
          <template v-if="!changes.length"
            >No other single answer would put another knife first.</template
          >
        </p>
        <WantedKnife v-if="found.nothing" :nothing="found.nothing" :wanted="found.wanted" />
        <ol class="offers">
          <OfferRow
            v-for="(offer, i) in found.offers"
            :key="offer.piece.id"
            :offer="offer"
            :place="i + 1"
            :currency="asked.data.value.currency"
          />
        </ol>
        <ul v-if="found.told.length" class="changes" aria-label="What the answers changed">
          <li v-for="t in found.told" :key="t.effect">
            {{ t.effect }}
            <template v-if="t.piece_id !== null">
              Otherwise <RouterLink :to="`/sheet/${t.piece_id}`">{{ t.name }}</RouterLink> would
              come first.
            </template>
          </li>
        </ul>
        <ul v-if="changes.length" class="changes" aria-label="What would change it">
          <li v-for="change in changes" :key="change.id">
            <RouterLink :to="`/sheet/${change.id}`">{{ change.name }}</RouterLink> would come first
            if the answer were: <b>{{ change.answers.join(', or ') }}</b>.
          </li>
        </ul>
        <p v-if="found.second" class="beside">
          Beside the first, for {{ labelOf('Part', found.second.part) }}:
          <RouterLink :to="`/sheet/${found.second.piece_id}`">{{ found.second.name }}</RouterLink>.
          <span v-for="w in found.second.warnings" :key="w" class="rust">⚠ {{ w }} </span>
        </p>
        <p v-else-if="found.offers.length && profile.owned.length" class="beside">
          No second knife adds much to the first and to the knives already owned.
        </p>
        <PairAdvice />
        <WantedKnife v-if="!found.nothing" :wanted="found.wanted" />
        <details v-if="found.ruled_out_total" class="no-print">
          <summary>{{ found.ruled_out_total }} ruled out, each with its reason</summary>
          <ul class="small">
            <li v-for="knife in found.ruled_out" :key="knife.piece_id">
              <RouterLink :to="`/sheet/${knife.piece_id}`">{{ knife.name }}</RouterLink>
              {{ knife.reasons.join(' ') }}
            </li>
          </ul>
        </details>
        <WishList />
        <div v-if="priced.length > 1" class="priced">
          <PriceFront :knives="priced" :currency="asked.data.value.currency" />
          <div>
            <h3>Price against fit</h3>
            <p class="soft small">
              Numbered as in the list, with 90 % limits. The dashed line joins the knives that no
              other beats on both price and fit.
            </p>
            <p v-for="w in weighed" :key="w.criterion" class="small">
              {{ w.name }} would draw level if
              <b>{{ labelOf('Criterion', w.criterion) }}</b> counted {{ w.counting }}.
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

.beside {
  margin: 8px 0;
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
