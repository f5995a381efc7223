<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, reactive, watch } from 'vue'
import { api, data } from '@/api/client'
import type { JobIn } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'
import OfferRow from './OfferRow.vue'

/** A customer's habits in, by taps; a reasoned short list out, at once. */
const KEY = 'maple-rook.counter'
const asked = useQuery({
  queryKey: ['counter'],
  queryFn: () => data(api.GET('/api/counter')),
  staleTime: Infinity,
})

const USUAL: JobIn = {
  label: '',
  size: 'the main knife',
  use: 'home',
  cuts: 'all foods alike',
  motion: 'a bit of each',
  hand: 'right',
  board: 'wood or plastic',
  technique: 'normal',
  care: 'washed and dried at once',
  tools: 'brought to the shop',
  skill: 'steady',
  heft: 'no matter',
  school: 'geometry first',
  bone: false,
  budget: null,
}
function remembered(): JobIn {
  try {
    return { ...USUAL, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<JobIn>) }
  } catch {
    return { ...USUAL }
  }
}
const job = reactive<JobIn>(remembered())
watch(job, (now) => localStorage.setItem(KEY, JSON.stringify(now)))

const answered = (key: string) => job[key as keyof JobIn]
function answer(key: string, value: string): void {
  Object.assign(job, { [key]: value, label: '' })
}
function start(preset: JobIn): void {
  Object.assign(job, USUAL, preset)
}
const budget = computed({
  get: () => (job.budget == null ? '' : String(job.budget)),
  set: (typed: string) => {
    const value = Number(typed.trim().replace(',', '.'))
    job.budget = value > 0 ? value : null
  },
})

const advice = useQuery({
  queryKey: computed(() => ['counter', 'advice', { ...job }]),
  placeholderData: keepPreviousData,
  queryFn: () => data(api.POST('/api/counter/advice', { body: { ...job } })),
})
</script>

<template>
  <StateNote
    v-if="!asked.data.value"
    :error="asked.error.value"
    waiting="Coming to the counter…"
    :retry="() => asked.refetch()"
  />
  <div v-else class="counter">
    <section class="asked no-print" aria-label="The customer">
      <div class="presets" role="group" aria-label="Start from">
        <button
          v-for="preset in asked.data.value.presets"
          :key="preset.label"
          type="button"
          class="plain chip"
          :class="{ on: job.label === preset.label }"
          :aria-pressed="job.label === preset.label"
          @click="start(preset)"
        >
          {{ preset.label }}
        </button>
      </div>
      <fieldset v-for="q in asked.data.value.questions" :key="q.key">
        <legend>{{ q.asked }}</legend>
        <button
          v-for="a in q.answers"
          :key="a"
          type="button"
          class="plain chip"
          :class="{ on: answered(q.key) === a }"
          :aria-pressed="answered(q.key) === a"
          @click="answer(q.key, a)"
        >
          {{ a }}
        </button>
      </fieldset>
      <fieldset>
        <legend>Bone, and what it may cost?</legend>
        <button
          type="button"
          class="plain chip"
          :class="{ on: job.bone }"
          :aria-pressed="job.bone === true"
          @click="Object.assign(job, { bone: !job.bone, label: '' })"
        >
          cuts small bones
        </button>
        <v-text-field
          v-model="budget"
          :label="`at most, ${asked.data.value.currency}`"
          inputmode="decimal"
          class="budget"
        />
      </fieldset>
    </section>

    <section aria-label="Short list" :class="{ stale: advice.isPlaceholderData.value }">
      <StateNote
        v-if="!advice.data.value"
        :error="advice.error.value"
        waiting="Looking along the shelf…"
        :retry="() => advice.refetch()"
      />
      <template v-else>
        <h2>
          {{ job.label || 'This customer' }}: {{ advice.data.value.offers.length || 'nothing' }} of
          {{ advice.data.value.considered }} knives
        </h2>
        <p v-if="advice.data.value.nothing" class="rust">⚠ {{ advice.data.value.nothing }}</p>
        <p v-if="advice.data.value.deciding" role="status">
          Between the first two, <b>{{ advice.data.value.deciding }}</b> decides.
          <template v-for="change in advice.data.value.changes" :key="change.answer">
            If it were <b>{{ change.answer }}</b>: {{ change.name }}.
          </template>
        </p>
        <ol class="offers">
          <OfferRow
            v-for="(offer, i) in advice.data.value.offers"
            :key="offer.piece.id"
            :offer="offer"
            :place="i + 1"
            :currency="asked.data.value.currency"
          />
        </ol>
        <details v-if="advice.data.value.ruled_out_total" class="no-print">
          <summary>{{ advice.data.value.ruled_out_total }} ruled out, each with its reason</summary>
          <ul class="small">
            <li v-for="knife in advice.data.value.ruled_out" :key="knife.piece_id">
              <RouterLink :to="`/sheet/${knife.piece_id}`">{{ knife.name }}</RouterLink>
              {{ knife.reasons.join(' ') }}
            </li>
          </ul>
        </details>
        <p v-for="caution in advice.data.value.cautions" :key="caution" class="soft small">
          {{ caution }}
        </p>
        <p class="soft small">
          Grade P: desirabilities and weights are practice rules; the draws carry measuring
          uncertainty and the models' scatter, not taste.
        </p>
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

.presets,
fieldset {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  align-items: center;
}

.presets {
  padding-bottom: 8px;
  border-bottom: 1px solid var(--hairline);
}

fieldset {
  border: 0;
  margin: 0;
  padding: 0;
}

legend {
  color: var(--soft-ink);
  font-size: var(--size-s);
  padding: 8px 0 2px;
}

.chip {
  padding: 5px 9px !important;
  border: 1px solid var(--hairline) !important;
  border-radius: 3px;
}

.chip.on {
  color: var(--ink) !important;
  font-weight: 600;
  border-color: var(--measured) !important;
  box-shadow: inset 0 -3px 0 var(--measured);
}

.budget {
  max-width: 170px;
}

.offers {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}

.stale {
  opacity: 0.6;
}

p {
  margin: 2px 0;
}

summary {
  cursor: pointer;
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
