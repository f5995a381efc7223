<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import { useHungKnives } from './knives'
import { useHand } from './store'
import { mark } from '@/parts/letters'
import { asked } from '@/parts/profile'

/** Which of any two on the strip, or both, for the customer and beside what there is. */
const hand = useHand()
const hung = useHungKnives()
const chosen = ref<number[]>([])
const pair = computed(() => {
  const there = chosen.value.filter((id) => hand.ids.includes(id))
  return there.length === 2 ? there : hand.ids.slice(0, 2)
})
const letter = (id: number) => mark(hand.ids.indexOf(id)).letter
const tag = (id: number) => hung.data.value?.find((k) => k.id === id)?.tag ?? ''

/** The one tapped comes in; the one chosen longest ago goes. */
function choose(id: number): void {
  if (pair.value.includes(id)) return
  chosen.value = [pair.value[1] ?? id, id]
}
const advice = useQuery({
  queryKey: computed(() => ['counter', 'pair', pair.value, asked()]),
  enabled: computed(() => pair.value.length === 2),
  placeholderData: keepPreviousData,
  queryFn: () =>
    data(api.POST('/api/counter/pair', { body: { pieces: pair.value, profile: asked() } })),
})
</script>

<template>
  <section v-if="hand.ids.length > 1" class="pair" aria-label="Which of these two, or both">
    <p>
      <b>Which of these two, or both?</b>
      <span class="choice no-print" role="group" aria-label="Two from the strip">
        <button
          v-for="id in hand.ids"
          :key="id"
          type="button"
          class="plain one"
          :class="{ on: pair.includes(id) }"
          :aria-pressed="pair.includes(id)"
          :style="{ color: mark(hand.ids.indexOf(id)).colour }"
          @click="choose(id)"
        >
          {{ letter(id) }} <span class="soft small">{{ tag(id) }}</span>
        </button>
      </span>
    </p>
    <p v-if="advice.data.value" role="status">{{ advice.data.value.words }}</p>
    <p v-else-if="advice.error.value" class="rust">{{ advice.error.value.message }}</p>
  </section>
</template>

<style scoped>
.pair {
  margin: 10px 0;
}

p {
  margin: 2px 0;
}

.choice {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-left: 8px;
}

.one {
  padding: 2px 8px !important;
  border: 1px solid var(--hairline) !important;
  border-radius: 3px;
  font-weight: 600;
}

.one.on {
  border-color: var(--measured) !important;
  box-shadow: inset 0 -3px 0 var(--measured);
}
</style>
