<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { items, useCatalogue } from '@/api/catalogue'
import { addressOf } from '@/api/base'
import { api, data } from '@/api/client'
import type { LaidIn } from '@/api/schema'
import SawTooth from '@/drawings/SawTooth.vue'
import BasisSwitch from '@/parts/BasisSwitch.vue'
import CardNote from '@/parts/CardNote.vue'
import {
  asked as asAsked,
  honed,
  intoKitchen,
  profile,
  startFrom,
  useConversation,
} from '@/parts/profile'
import ProfileForm from '@/parts/ProfileForm.vue'
import { kitchen } from '@/parts/kitchen'
import PredictionRow from '@/parts/PredictionRow.vue'
import PriceFront from '@/parts/PriceFront.vue'
import SchoolToggles from '@/parts/SchoolToggles.vue'
import StateNote from '@/parts/StateNote.vue'
import WhyPanel from '@/parts/WhyPanel.vue'
import { mark } from '@/parts/letters'
import PairAdvice from '@/strip/PairAdvice.vue'
import { useHand } from '@/strip/store'
import BoardOverlay from './BoardOverlay.vue'
import DifferenceTable from './DifferenceTable.vue'
import EdgeBears from './EdgeBears.vue'
import EdgesOnBoard from './EdgesOnBoard.vue'
import { evidenceId } from './evidence'
import CriteriaTable from './CriteriaTable.vue'
import SaveBoard from './SaveBoard.vue'
import SeenDifferences from './SeenDifferences.vue'
import VerdictBlock from './VerdictBlock.vue'
import WordSwitch from '@/parts/WordSwitch.vue'

/** Two to six knives from the strip, laid over each other and judged for a customer. */
const ForceChart = defineAsyncComponent(() => import('./ForceChart.vue'))
const COMPARED = [
  [false, 'pieces'],
  [true, 'models'],
] as const

intoKitchen()
const hand = useHand()
const route = useRoute()
const router = useRouter()
const { catalogue, predicted } = useCatalogue()
const { asked } = useConversation()
const food = ref('onion')
const stroke = ref('push')
const telling = ref(false)

/** Pieces, or the models they are pieces of; kept in the link. */
const models = computed({
  get: () => route.query.models === 'yes',
  set: (on: boolean) => {
    void router.replace({ query: { ...route.query, models: on ? 'yes' : undefined } })
  },
})
const laid = computed<LaidIn>(() => ({
  pieces: [...hand.ids],
  models: models.value,
  profile: asAsked(),
  edge: kitchen.edge,
  basis: kitchen.basis,
}))
/** The table of differences as a file. */
const table = (ends: string) => {
  const pieces = hand.ids.map((id) => `piece=${id}`).join('&')
  return addressOf(`/api/board/table.${ends}?models=${models.value}&${pieces}`)
}
const enough = computed(() => hand.ids.length > 1)
const board = useQuery({
  queryKey: computed(() => ['board', laid.value]),
  enabled: enough,
  placeholderData: keepPreviousData,
  queryFn: () => data(api.POST('/api/board', { body: laid.value })),
})
const verdict = computed(() => board.data.value?.verdict)

const knives = computed(() =>
  (board.data.value?.knives ?? []).map((knife, i) => ({ ...knife, style: mark(i) })),
)
const marks = computed(() => knives.value.map((k) => k.style))
const sheets = computed(() =>
  Object.fromEntries(knives.value.map((k) => [k.style.letter, k.piece.id])),
)
const letterOf = (id: number) => knives.value.find((k) => k.piece.id === id)?.style.letter ?? ''
const curve = computed(() =>
  board.data.value?.curves.find((c) => c.food === food.value && c.stroke === stroke.value),
)
const starts = computed(() => [
  ...(asked.data.value?.customers ?? []).map((c) => c.profile),
  ...(asked.data.value?.presets ?? []),
])
const chosen = computed({
  get: () => profile.label || null,
  set: (label: string | null) => {
    const start = starts.value.find((j) => j.label === label)
    if (start) startFrom(start)
  },
})
const priced = computed(() =>
  (verdict.value?.knives ?? []).flatMap((k) => {
    const knife = knives.value.find((one) => one.piece.id === k.piece_id)
    if (!knife || !k.score || k.price === null) return []
    const { letter, colour } = knife.style
    const { score, price, on_front: front } = k
    return [{ mark: letter, colour, price, score, front, name: knife.piece.name }]
  }),
)
const dear = computed(() =>
  knives.value.filter((k) => k.piece.price === null).map((k) => k.style.letter),
)

const drawn = computed(() => predicted.value.filter((card) => card.predicted.on_board))

function rows(key: string) {
  return knives.value.flatMap((knife) => {
    const prediction = knife.predictions.find((p) => p.key === key)
    const { maker, line, nominal_mm, name } = knife.piece
    const short = `${maker} ${line} ${nominal_mm}`
    const whole = models.value ? `${name.split(' · ')[0]}, the next piece` : name
    return prediction ? [{ prediction, style: knife.style, name: whole, short }] : []
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
      The Board compares the knives on the strip. Go to the
      <RouterLink to="/rack">Rack</RouterLink>, point at a knife and press <kbd>H</kbd>; two to six
      fit here.
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
    <div class="bar no-print" role="group" aria-label="For whom">
      <v-select
        v-model="chosen"
        :items="starts.map((j) => j.label)"
        label="for"
        placeholder="this customer"
        persistent-placeholder
        class="for"
      />
      <v-btn :aria-expanded="telling" @click="telling = !telling">
        {{ telling ? 'Hide' : 'The customer…' }}
      </v-btn>
      <v-select v-model="kitchen.edge" :items="items(catalogue?.edges)" label="edge" class="edge" />
      <BasisSwitch />
      <WordSwitch v-model="models" legend="Compare" :choices="COMPARED" />
      <RouterLink to="/board/foods" class="small">foods</RouterLink>
      <SaveBoard :laid="laid" class="save" />
    </div>
    <ProfileForm v-if="telling && asked.data.value" :asked="asked.data.value" class="telling" />
    <SchoolToggles
      v-if="asked.data.value"
      :id="evidenceId('schools')"
      :schools="asked.data.value.schools"
    />
    <p v-if="verdict?.schools.length" class="small soft by-school">
      <template v-for="s in verdict.schools" :key="s.school">
        <span :class="{ rust: s.changed }">
          {{ s.school }}: {{ s.changed ? '⚠ ' : '' }}{{ letterOf(s.piece_id) }} first
        </span>
      </template>
    </p>
    <div v-if="models" class="small soft">
      Models: every figure is that of the next piece, its U half the 95 % prediction interval over
      the pieces measured.
      <template v-for="k in knives" :key="k.piece.id">
        <b :style="{ color: k.style.colour }">{{ k.style.letter }}</b> {{ k.pieces.join(', ') }}.
      </template>
      <CardNote card="next_piece" />
    </div>
    <div class="columns first">
      <section aria-label="What differs">
        <h2>
          What differs
          <span class="small unit no-print tables">
            <a v-for="ends in ['csv', 'xlsx']" :key="ends" :href="table(ends)" download
              >.{{ ends }}</a
            >
          </span>
        </h2>
        <DifferenceTable
          :differences="board.data.value.differences"
          :order="verdict?.order ?? []"
          :count="knives.length"
        />
        <SeenDifferences :pieces="[...hand.ids]" :marks="marks" :models="models" />
      </section>
      <div class="beside">
        <VerdictBlock v-if="verdict" :sentences="verdict.sentences" :sheets="sheets" />
        <PairAdvice />
      </div>
    </div>
    <div class="columns later">
      <section aria-label="Force and motion">
        <h2>Force and motion</h2>
        <div class="force-head">
          <h3>Force against depth</h3>
          <v-select v-model="food" :items="items(catalogue?.foods)" label="food" class="no-print" />
          <v-select
            v-model="stroke"
            :items="items(catalogue?.strokes)"
            label="stroke"
            class="no-print"
          />
        </div>
        <ForceChart
          v-if="curve"
          :curve="curve"
          :marks="marks"
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
        <EdgesOnBoard :knives="knives" />
      </section>
      <section aria-label="What it means">
        <h2>What it means</h2>
        <div
          v-for="card in drawn"
          :id="evidenceId(`prediction.${card.key}`)"
          :key="card.key"
          class="meaning"
        >
          <h3>
            {{ card.predicted.on_board }}
            <span class="unit">{{ card.predicted.scale.join(' to ') }}</span>
          </h3>
          <PredictionRow
            v-for="row in rows(card.key)"
            :key="row.style.letter"
            :prediction="row.prediction"
            :style="row.style"
            :label="row.short"
            :knife="`${row.style.letter}: ${row.name}`"
            :from="card.predicted.scale[0]"
            :to="card.predicted.scale[1]"
          />
        </div>
        <template v-if="lives.some((l) => l.life.sharpness.length)">
          <h3>Sharpness over 180 days <span class="unit">100 fresh, ▲ stone</span></h3>
          <SawTooth :lines="lives" />
          <p class="small soft">
            Likely course, {{ honed ? 'rod and stone when due' : 'stone when due' }}.
            <template v-for="l in lives" :key="l.style.letter">
              <span v-if="l.life.why"> {{ l.style.letter }}: {{ l.life.why }}</span>
            </template>
          </p>
        </template>
      </section>
    </div>
    <section v-if="verdict" aria-label="How each suits" class="later">
      <h2 class="next">
        How each suits {{ profile.label ? `the ${profile.label}` : 'this customer' }}
      </h2>
      <CriteriaTable :verdict="verdict" :marks="marks" />
      <CardNote card="suits" />
      <div class="columns">
        <div v-if="priced.length > 1" :id="evidenceId('price')">
          <h3>Price against fit</h3>
          <PriceFront :knives="priced" :currency="asked.data.value?.currency ?? ''" />
          <p class="small soft">
            The dashed line joins the knives that no other beats on both price and fit.
            <template v-if="dear.length">No price: {{ dear.join(', ') }}.</template>
          </p>
        </div>
        <div>
          <h3>What the edge bears <span class="unit">below 1 the edge gives way</span></h3>
          <EdgeBears :knives="verdict.knives" :marks="marks" />
        </div>
      </div>
    </section>
    <WhyPanel />
  </div>
</template>

<style scoped>
.tables {
  float: right;
  display: inline-flex;
  gap: 10px;
  font-family: var(--sans);
}

.columns {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 36px;
  margin-top: 12px;
}

h3 {
  margin: 12px 0 2px;
  font-size: var(--size-m);
}

.first {
  grid-template-columns: minmax(0, 7fr) minmax(0, 5fr);
}

/* Laid out and drawn once it comes near, so that a click above answers at once. */
.later {
  content-visibility: auto;
  contain-intrinsic-size: auto 1100px;
}

.beside {
  position: sticky;
  top: 84px;
  align-self: start;
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

.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
  margin: 14px 0 6px;
  padding-top: 10px;
  border-top: 1px solid var(--hairline);
}

.bar > .for {
  max-width: 250px;
}

.bar > .edge {
  flex: 0 0 200px;
}

.bar > .save {
  margin-left: auto;
}

.telling {
  columns: 2 420px;
  column-gap: 40px;
  margin: 4px 0 10px;
  padding: 4px 0 10px;
  border-bottom: 1px solid var(--hairline);
}

.by-school {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin: 4px 0 0;
}

.next {
  margin-top: 22px;
}

:deep(.pointed),
.pointed {
  outline: 2px solid var(--measured);
  outline-offset: 3px;
}

@media (max-width: 699px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }

  .beside {
    position: static;
    grid-row: 1;
  }

  .force-head {
    flex-wrap: wrap;
  }
}
</style>
