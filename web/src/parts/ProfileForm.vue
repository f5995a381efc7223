<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import type { CounterOut, CustomerOut } from '@/api/schema'
import AnswerChip from './AnswerChip.vue'
import OwnedKnives from './OwnedKnives.vue'
import {
  answer,
  asked as asAsked,
  profile,
  type Profile,
  lastLabel,
  startFrom,
  useConversation,
} from './profile'

/** A customer in taps: where to start from, one row of answers a question, and the schools. */
const props = defineProps<{ asked: CounterOut }>()
const NOT_ASKED = 'not_asked'
const { keep: kept } = useConversation()

const answered = (key: string) => profile[key as keyof Profile]
const budget = computed({
  get: () => (profile.budget == null ? '' : String(profile.budget)),
  set: (typed: string) => {
    const value = Number(typed.trim().replace(',', '.'))
    answer({ budget: value > 0 ? value : null })
  },
})

const opened = ref(false)
const byShares = computed(() => opened.value || Object.values(profile.shares).some((p) => p > 0))
const MOST_PARTS = 9
function addPart(food: string, more: number): void {
  const parts = Math.min(MOST_PARTS, Math.max(0, (profile.shares[food] ?? 0) + more))
  answer({ shares: { ...profile.shares, [food]: parts } })
}
function foldShares(): void {
  opened.value = false
  if (Object.keys(profile.shares).length) answer({ shares: {} })
}
function switchShares(): void {
  if (byShares.value) foldShares()
  else opened.value = true
}
function choose(key: string, value: string): void {
  if (key === 'food_mix') foldShares()
  answer({ [key]: value })
}

const unfolded = ref(false)
const more = computed(
  () =>
    unfolded.value ||
    profile.owned.length > 0 ||
    props.asked.circumstances.some((q) => chosenOf(q.key).length > 0),
)
/** The answers of a further question; empty where it was skipped. */
function chosenOf(key: string): string[] {
  const value = profile[key as keyof Profile]
  if (Array.isArray(value)) return value as string[]
  return value === NOT_ASKED ? [] : [String(value)]
}
/** A second tap takes an answer back. */
function toggle(key: string, value: string, several: boolean): void {
  const known = chosenOf(key)
  const on = known.includes(value)
  if (several) answer({ [key]: on ? known.filter((v) => v !== value) : [...known, value] })
  else answer({ [key]: on ? NOT_ASKED : value })
}

const label = ref('')
const mayKeep = computed(() => (label.value.trim() || lastLabel.value).length > 0)
const keeping = useMutation({
  mutationFn: () => {
    const named = label.value.trim() || lastLabel.value
    const known = props.asked.customers.find((c) => c.profile.label === named)
    return data(
      api.POST('/api/counter/customers', {
        params: { header: { 'If-Match': known?.etag } },
        body: { label: named, profile: { ...asAsked(), label: named } },
      }),
    )
  },
  onSuccess: (customers) => {
    profile.label = label.value.trim() || lastLabel.value
    label.value = ''
    kept(customers)
  },
})
const forgetting = useMutation({
  mutationFn: (customer: CustomerOut) =>
    data(
      api.DELETE('/api/counter/customers/{customer_id}', {
        params: { path: { customer_id: customer.id }, header: { 'If-Match': customer.etag } },
      }),
    ),
  onSuccess: (customers, { profile: gone }) => {
    if (profile.label === gone.label) profile.label = ''
    if (lastLabel.value === gone.label) lastLabel.value = ''
    kept(customers)
  },
})
const sorted = computed(() => [
  {
    title: 'Start from',
    profiles: props.asked.presets.map((preset) => ({ preset, customer: null })),
  },
  {
    title: 'Saved customers',
    profiles: props.asked.customers.map((customer) => ({ preset: customer.profile, customer })),
  },
])
</script>

<template>
  <div class="form">
    <template v-for="group in sorted" :key="group.title">
      <div v-if="group.profiles.length" class="row" role="group" :aria-label="group.title">
        <span class="legend">{{ group.title }}</span>
        <span v-for="{ preset, customer } in group.profiles" :key="preset.label" class="pair">
          <AnswerChip
            :text="preset.label"
            :on="profile.label === preset.label"
            @click="startFrom(preset)"
          />
          <button
            v-if="customer"
            type="button"
            class="plain forget soft"
            :aria-label="`Forget ${preset.label}`"
            title="delete"
            @click="forgetting.mutate(customer)"
          >
            ×
          </button>
        </span>
      </div>
    </template>
    <fieldset v-for="q in asked.questions" :key="q.key" class="row">
      <legend class="legend">{{ q.asked }}</legend>
      <AnswerChip
        v-for="a in q.answers"
        :key="a.key"
        :text="a.label"
        :on="answered(q.key) === a.key && !(q.key === 'food_mix' && byShares)"
        @click="choose(q.key, a.key)"
      />
      <AnswerChip
        v-if="q.key === 'food_mix'"
        text="several, in parts…"
        :on="byShares"
        @click="switchShares"
      />
      <span v-if="q.key === 'food_mix' && byShares" class="shares">
        <span v-for="food in asked.foods" :key="food.key" class="food">
          {{ food.label }}
          <button
            type="button"
            class="plain step"
            :aria-label="`less ${food.label}`"
            @click="addPart(food.key, -1)"
          >
            −
          </button>
          <b class="number" :aria-label="`parts of ${food.label}`">{{
            profile.shares[food.key] ?? 0
          }}</b>
          <button
            type="button"
            class="plain step"
            :aria-label="`more ${food.label}`"
            @click="addPart(food.key, 1)"
          >
            +
          </button>
        </span>
      </span>
    </fieldset>
    <button
      type="button"
      class="plain more"
      :aria-expanded="more"
      aria-controls="circumstances"
      @click="unfolded = !more"
    >
      {{ more ? '▾' : '▸' }} More about the customer
      <span class="soft small">hand, storage, the last knife, knives owned; all optional</span>
    </button>
    <div v-show="more" id="circumstances">
      <fieldset v-for="q in asked.circumstances" :key="q.key" class="row">
        <legend class="legend">{{ q.asked }}</legend>
        <AnswerChip
          v-for="a in q.answers"
          :key="a.key"
          :text="a.label"
          :on="chosenOf(q.key).includes(a.key)"
          @click="toggle(q.key, a.key, q.several)"
        />
      </fieldset>
      <OwnedKnives />
    </div>
    <div class="row">
      <span class="legend">What may it cost?</span>
      <v-text-field
        v-model="budget"
        :label="`at most, ${asked.currency}`"
        inputmode="decimal"
        class="budget"
      />
    </div>
    <slot />
    <div v-needs="'advise'" class="row keep">
      <span class="legend">Save this customer under a label: no name, no address</span>
      <v-text-field
        v-model="label"
        label="customer’s label"
        :placeholder="lastLabel || undefined"
        :persistent-placeholder="Boolean(lastLabel)"
        maxlength="60"
        class="label"
        @keydown.enter="mayKeep && keeping.mutate()"
      />
      <v-btn :disabled="!mayKeep" @click="keeping.mutate()">Save</v-btn>
      <span v-if="keeping.error.value" class="rust">{{ keeping.error.value.message }}</span>
    </div>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  align-items: center;
  border: 0;
  margin: 0;
  padding: 0 0 2px;
}

.legend {
  width: 100%;
  color: var(--soft-ink);
  font-size: var(--size-s);
  padding: 6px 0 2px;
}

.pair {
  display: inline-flex;
}

.more {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  align-items: baseline;
  padding: 8px 0 2px !important;
  text-align: left;
}

.forget {
  padding: 0 8px !important;
}

.shares {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 2px 20px;
  width: 100%;
  padding: 4px 0;
}

.food {
  display: grid;
  grid-template-columns: 1fr 32px 18px 32px;
  align-items: center;
}

.step {
  border: 1px solid var(--hairline) !important;
  border-radius: 3px;
  text-align: center !important;
  min-height: 28px;
}

.food .number {
  text-align: center;
}

.budget {
  max-width: 170px;
}

.label {
  max-width: 220px;
}

.keep {
  margin-top: 8px;
  padding-top: 4px;
  border-top: 1px solid var(--hairline);
}
</style>
