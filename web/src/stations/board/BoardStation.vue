<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import SawTooth from '@/drawings/SawTooth.vue'
import { kitchen } from '@/parts/kitchen'
import KitchenBar from '@/parts/KitchenBar.vue'
import PredictionRow from '@/parts/PredictionRow.vue'
import StateNote from '@/parts/StateNote.vue'
import WhyPanel from '@/parts/WhyPanel.vue'
import { mark } from '@/strip/letters'
import { useHand } from '@/strip/store'
import BoardOverlay from './BoardOverlay.vue'
import DifferenceTable from './DifferenceTable.vue'

/** Two to six knives from the strip, laid over each other. */
const ForceChart = defineAsyncComponent(() => import('./ForceChart.vue'))

const hand = useHand()
const { catalogue } = useCatalogue()
const food = ref('onion')
const stroke = ref('push')

const board = useQuery({
  queryKey: computed(() => ['board', [...hand.ids], { ...kitchen }]),
  enabled: computed(() => hand.ids.length > 1),
  placeholderData: keepPreviousData,
  queryFn: () =>
    data(api.GET('/api/board', { params: { query: { piece: hand.ids, ...kitchen } } })),
})

const knives = computed(() =>
  (board.data.value?.knives ?? []).map((knife, i) => ({ ...knife, style: mark(i) })),
)
const curve = computed(() =>
  board.data.value?.curves.find((c) => c.food === food.value && c.stroke === stroke.value),
)
const foods = computed(() => catalogue.value?.foods.map((f) => ({ value: f.key, title: f.label })))
const strokes = computed(() =>
  catalogue.value?.strokes.map((s) => ({ value: s.key, title: s.label })),
)

const MEANINGS: [string, string, number, number][] = [
  ['cutting_ease', 'Cutting ease, 100 = reference blade', 50, 150],
  ['card_test', 'Edge retention on the card test (TCC)', 0, 1000],
  ['initial_cut', 'Initial cutting on the card test (ICP)', 0, 120],
  ['days_to_rod', 'Days to the rod', 0, 40],
  ['months_to_stone', 'Months to the stone', 0, 10],
  ['release', 'Food release, 100 lets everything go', 0, 100],
  ['static_moment', 'Static moment at the pinch, plus is blade-forward', -80, 160],
  ['tip_deflection', 'Flex: tip under 10 N sideways', 0, 40],
]

function rows(key: string) {
  return knives.value.flatMap((knife) => {
    const prediction = knife.predictions.find((p) => p.key === key)
    const { maker, line, nominal_mm, name } = knife.piece
    const short = `${maker} ${line} ${nominal_mm}`
    return prediction ? [{ prediction, style: knife.style, name, short }] : []
  })
}

const lives = computed(() => knives.value.map((k) => ({ life: k.edge_life, style: k.style })))
const forceRows = computed(() => rows(`force.${food.value}.${stroke.value}`))
const highestForce = computed(() =>
  Math.max(10, ...forceRows.value.map((r) => r.prediction.high ?? 0)),
)
</script>

<template>
  <div v-if="hand.ids.length < 2" class="empty">
    <h2>Hang two knives to compare them</h2>
    <p>
      The Board lays the knives on the strip over each other. Go to the
      <RouterLink to="/rack">Rack</RouterLink>, point at a knife and press <kbd>H</kbd>; two to six
      can lie here.
    </p>
  </div>
  <StateNote
    v-else-if="!board.data.value"
    :error="board.error.value"
    waiting="Laying the knives on the board…"
    :retry="() => board.refetch()"
  />
  <div v-else class="board" :class="{ stale: board.isPlaceholderData.value }">
    <BoardOverlay :knives="knives" />
    <div class="columns">
      <section aria-label="What differs">
        <h2>What differs</h2>
        <DifferenceTable :differences="board.data.value.differences" :count="knives.length" />
      </section>
      <section aria-label="What it means">
        <h2>What it means</h2>
        <KitchenBar />
        <div v-for="[key, label, from, to] in MEANINGS" :key="key" class="meaning">
          <h3>
            {{ label }} <span class="unit">{{ from }} to {{ to }}</span>
          </h3>
          <PredictionRow
            v-for="row in rows(key)"
            :key="row.style.letter"
            :prediction="row.prediction"
            :style="row.style"
            :label="row.short"
            :knife="`${row.style.letter}: ${row.name}`"
            :from="from"
            :to="to"
          />
        </div>
        <template v-if="lives.some((l) => l.life.sharpness.length)">
          <h3>Sharpness over 180 days <span class="unit">100 fresh, ▲ stone</span></h3>
          <SawTooth :lines="lives" />
          <p class="small soft">
            Likely course, {{ kitchen.honed ? 'rod and stone when due' : 'stone when due' }}.
            <template v-for="l in lives" :key="l.style.letter">
              <span v-if="l.life.why"> {{ l.style.letter }}: {{ l.life.why }}</span>
            </template>
          </p>
        </template>
        <div class="force-head">
          <h3>Force against depth</h3>
          <v-select v-model="food" :items="foods ?? []" label="food" class="no-print" />
          <v-select v-model="stroke" :items="strokes ?? []" label="stroke" class="no-print" />
        </div>
        <ForceChart
          v-if="curve"
          :curve="curve"
          :marks="knives.map((k) => k.style)"
          :tags="knives.map((k) => k.piece.tag)"
        />
        <PredictionRow
          v-for="row in forceRows"
          :key="row.style.letter"
          :prediction="row.prediction"
          :style="row.style"
          :label="row.short"
          :knife="`${row.style.letter}: ${row.name}`"
          :from="0"
          :to="highestForce"
        />
      </section>
    </div>
    <footer v-if="board.data.value.verdict.length" class="verdict" aria-label="Verdict">
      <p v-for="sentence in board.data.value.verdict" :key="sentence.text">{{ sentence.text }}</p>
      <p class="soft small">
        Estimates from geometry and steel, never a promise that a cut is safe.
      </p>
    </footer>
    <WhyPanel />
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 36px;
  margin-top: 12px;
}

.stale {
  opacity: 0.6;
}

h3 {
  margin: 12px 0 2px;
  font-size: var(--size-m);
}

.force-head {
  display: flex;
  align-items: center;
  gap: 12px;
  margin-top: 16px;
}

.force-head h3 {
  margin: 0 auto 0 0;
}

.force-head > .v-input {
  max-width: 170px;
}

.verdict {
  position: sticky;
  bottom: 0;
  margin: 24px -20px -32px;
  padding: 10px 20px 10px;
  background: var(--panel);
  border-top: 1px solid var(--hairline);
  font-family: var(--serif);
  font-size: var(--size-l);
  line-height: 1.3;
  max-height: 190px;
  overflow-y: auto;
}

.verdict p {
  margin: 0 0 2px;
}

.verdict .small {
  font-family: var(--sans);
}

@media (max-width: 699px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }

  .verdict {
    position: static;
    margin: 20px -12px 0;
    padding: 10px 12px;
  }

  .force-head {
    flex-wrap: wrap;
  }
}
</style>
