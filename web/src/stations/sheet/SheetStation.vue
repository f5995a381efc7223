<script setup lang="ts">
import { keepPreviousData, useMutation, useQuery } from '@tanstack/vue-query'
import { computed, onUnmounted, watch } from 'vue'
import { useRouter } from 'vue-router'
import { labelOf, useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import type { Hardened, PredictionOut, SheetPart } from '@/api/schema'
import BladeElevation from '@/drawings/BladeElevation.vue'
import DrawingLinks from '@/parts/DrawingLinks.vue'
import { kitchen } from '@/parts/kitchen'
import KitchenBar from '@/parts/KitchenBar.vue'
import { lifeSize, pxPerMm } from '@/parts/life'
import LifeSize from '@/parts/LifeSize.vue'
import PredictionRow from '@/parts/PredictionRow.vue'
import StateNote from '@/parts/StateNote.vue'
import WhyPanel from '@/parts/WhyPanel.vue'
import { mark } from '@/parts/letters'
import { aReview, useWriting } from '@/parts/writing'
import { useHand } from '@/strip/store'
import FoldedPart from '@/parts/FoldedPart.vue'
import PageContents from '@/parts/PageContents.vue'
import OutPanel from '@/parts/OutPanel.vue'
import PhotographPanel from '@/parts/PhotographPanel.vue'
import ClaimTable from './ClaimTable.vue'
import CutPanel from './CutPanel.vue'
import EasePanel from './EasePanel.vue'
import EdgePanel from './EdgePanel.vue'
import FigureTable from './FigureTable.vue'
import SheetSummary from './SheetSummary.vue'
import StockPanel from './StockPanel.vue'
import StoredPredictions from './StoredPredictions.vue'
import MendPiece from './MendPiece.vue'
import ModelPanel from './ModelPanel.vue'
import ProfilePanel from './ProfilePanel.vue'
import ReadingHistory from './ReadingHistory.vue'
import ReleaseParts from './ReleaseParts.vue'
import RepeatPanel from './RepeatPanel.vue'
import SeenTable from './SeenTable.vue'
import ShapePanel from './ShapePanel.vue'
import WhatIfPanel from './WhatIfPanel.vue'

/** Everything about one knife: the one in the address, else the one selected on the strip. */
const props = defineProps<{ pieceId: number | null }>()

const router = useRouter()
const TOO_SOFT: Partial<Record<Hardened, string>> = {
  not_hardened: 'Not hardened',
  hardly_hardened: 'Hardly hardened',
}
const hand = useHand()
const { catalogue, predicted, typeLabel, grindLabel } = useCatalogue()
const id = computed(() => props.pieceId ?? hand.selected ?? hand.ids[0] ?? null)

const sheet = useQuery({
  queryKey: computed(() => ['sheet', id.value, { ...kitchen }]),
  enabled: computed(() => id.value !== null),
  placeholderData: keepPreviousData,
  queryFn: () =>
    data(
      api.GET('/api/pieces/{piece_id}', {
        params: { path: { piece_id: id.value ?? 0 }, query: { ...kitchen } },
      }),
    ),
})

const ease = useQuery({
  queryKey: computed(() => ['sheet', id.value, 'ease', { ...kitchen }]),
  enabled: computed(() => Boolean(sheet.data.value?.shape.sections.length)),
  placeholderData: keepPreviousData,
  queryFn: () =>
    data(
      api.GET('/api/pieces/{piece_id}/ease', {
        params: { path: { piece_id: id.value ?? 0 }, query: { ...kitchen } },
      }),
    ),
})

watch(id, (now) => (hand.current = now), { immediate: true })
onUnmounted(() => (hand.current = null))

/** What the Bench saw of the construction, else what the model is entered as. */
const construction = computed(
  () =>
    sheet.data.value?.seen.find((o) => o.item === 'construction')?.text ??
    sheet.data.value?.piece.construction,
)
const measure = useMutation({
  mutationFn: (piece: number) =>
    data(
      api.POST('/api/bench/pieces/{piece_id}/sheets', { params: { path: { piece_id: piece } } }),
    ),
  onSuccess: (begun) => router.push(`/bench/${begun.id}`),
})

const writing = useWriting()
const letter = computed(() => {
  const at = id.value === null ? -1 : hand.ids.indexOf(id.value)
  return at >= 0 ? mark(at) : null
})
const byKey = computed(
  () => new Map<string, PredictionOut>(sheet.data.value?.predictions.map((p) => [p.key, p])),
)
const forces = computed(() =>
  (catalogue.value?.foods ?? []).flatMap((food) => {
    const found = byKey.value.get(`force.${food.key}.push`)
    return found ? [{ food: food.label, prediction: found }] : []
  }),
)
const highestForce = computed(() =>
  Math.max(60, ...forces.value.map((f) => f.prediction.high ?? 0)),
)
const rows = (part: SheetPart) =>
  predicted.value.flatMap((card) => {
    const prediction = byKey.value.get(card.key)
    const [from, to] = card.predicted.scale
    return prediction && card.predicted.part === part ? [{ prediction, from, to }] : []
  })
</script>

<template>
  <div v-if="id === null" class="empty">
    <h2>No knife chosen</h2>
    <p>Pick one on the <RouterLink to="/rack">Rack</RouterLink>, or hang one on the strip.</p>
  </div>
  <StateNote
    v-else-if="!sheet.data.value"
    :error="sheet.error.value"
    waiting="Getting the sheet out of the drawer…"
    :retry="() => sheet.refetch()"
  />
  <article v-else class="sheet">
    <header class="title">
      <div>
        <h2>
          <b v-if="letter" :style="{ color: letter.colour }">{{ letter.letter }}</b>
          {{ sheet.data.value.piece.maker }} {{ sheet.data.value.piece.line }}
          {{ typeLabel(sheet.data.value.piece.knife_type) }}
          {{ sheet.data.value.piece.nominal_mm }}
        </h2>
        <p class="soft">
          {{ sheet.data.value.piece.tag }}, {{ sheet.data.value.piece.condition }} ·
          {{ grindLabel(sheet.data.value.piece.grind) }} ·
          {{ sheet.data.value.piece.steel ?? 'steel not known' }}
          <template v-if="sheet.data.value.piece.reactivity"
            >({{ labelOf('Reactivity', sheet.data.value.piece.reactivity) }})</template
          >
          · {{ construction }}
          <template v-if="sheet.data.value.piece.handle">
            · handle {{ sheet.data.value.piece.handle }}</template
          >
          <template v-if="sheet.data.value.piece.price !== null">
            · {{ sheet.data.value.piece.price }} {{ catalogue?.currency }}</template
          >
          ·
          <RouterLink :to="`/upkeep/${sheet.data.value.piece.id}/work`" class="soft">{{
            labelOf('Shelf', sheet.data.value.shelf)
          }}</RouterLink>
        </p>
        <StockPanel
          :piece-id="sheet.data.value.piece.id"
          :stock="sheet.data.value.stock"
          :wished-for="sheet.data.value.wished_for"
        />
        <MendPiece :piece-id="sheet.data.value.piece.id" :model-id="sheet.data.value.model_id" />
      </div>
      <div class="actions no-print">
        <v-btn @click="hand.toggle(sheet.data.value.piece.id)">
          {{ letter ? 'Take off the strip' : 'Hang on the strip' }}
        </v-btn>
        <v-btn :to="`/upkeep/${sheet.data.value.piece.id}/setup`">Upkeep</v-btn>
        <v-btn
          v-needs="'advise'"
          :loading="writing.isPending.value"
          @click="writing.mutate(aReview(sheet.data.value.piece.id))"
        >
          Write a review
        </v-btn>
        <v-btn
          v-needs="'measure'"
          :loading="measure.isPending.value"
          @click="measure.mutate(sheet.data.value.piece.id)"
        >
          Measure again
        </v-btn>
      </div>
    </header>

    <div class="elevation">
      <BladeElevation
        :outline="sheet.data.value.outline"
        :figures="sheet.data.value.figures"
        :life="lifeSize ? pxPerMm : undefined"
        roomy
      />
    </div>
    <p class="under no-print">
      <LifeSize />
      <DrawingLinks :pieces="[sheet.data.value.piece.id]" />
      <a href="#out" class="small">Card, label, page…</a>
    </p>
    <p v-if="sheet.data.value.outline.assumed.length" class="soft small">
      Drawn from type and nominal size: {{ sheet.data.value.outline.assumed.join(', ') }}. The curve
      of edge and spine between measured places is the type's.
    </p>
    <p v-if="sheet.data.value.hardened && TOO_SOFT[sheet.data.value.hardened]" class="rust">
      <strong>⚠ {{ TOO_SOFT[sheet.data.value.hardened] }}.</strong>
      {{ sheet.data.value.hardened_why }} (ISO 8442-1). It may slice paper today; it will not hold.
    </p>
    <p v-for="check in sheet.data.value.checks" :key="check" class="rust">⚠ {{ check }}</p>
    <p v-if="sheet.data.value.piece.note" class="note">{{ sheet.data.value.piece.note }}</p>

    <SheetSummary :sheet="sheet.data.value" />
    <PageContents />
    <ShapePanel :sheet="sheet.data.value" />

    <div class="columns">
      <section aria-label="Measured figures">
        <h2>Measured</h2>
        <FigureTable :figures="sheet.data.value.figures" />
        <ClaimTable :claims="sheet.data.value.claims" :figures="sheet.data.value.figures" />
        <CutPanel
          v-if="sheet.data.value.shape.sections.length"
          :piece-id="sheet.data.value.piece.id"
        />
        <template v-if="sheet.data.value.shape.release.length">
          <h3>Food release, by its parts</h3>
          <ReleaseParts :parts="sheet.data.value.shape.release" />
        </template>
      </section>

      <section aria-label="Predictions">
        <h2>Predicted</h2>
        <KitchenBar />
        <h3>On the board and in the kitchen</h3>
        <PredictionRow
          v-for="row in rows('meaning')"
          :key="row.prediction.key"
          v-bind="row"
          :knife="sheet.data.value.piece.name"
        />
        <h3>
          Force for a straight push <span class="unit">0 to {{ Math.round(highestForce) }} N</span>
        </h3>
        <PredictionRow
          v-for="row in forces"
          :key="row.prediction.key"
          :prediction="row.prediction"
          :label="row.food"
          :from="0"
          :to="highestForce"
          :knife="sheet.data.value.piece.name"
        />
        <h3>In the hand</h3>
        <PredictionRow
          v-for="row in rows('hand')"
          :key="row.prediction.key"
          v-bind="row"
          :knife="sheet.data.value.piece.name"
        />
        <h3>Shape and steel</h3>
        <PredictionRow
          v-for="row in rows('shape')"
          :key="row.prediction.key"
          v-bind="row"
          :knife="sheet.data.value.piece.name"
        />
        <h3>Care and caution</h3>
        <ul class="cautions small">
          <li v-for="caution in sheet.data.value.cautions" :key="caution">{{ caution }}</li>
        </ul>
      </section>
    </div>
    <EdgePanel :sheet="sheet.data.value" />
    <StoredPredictions :sheet="sheet.data.value" />
    <ProfilePanel :sheet="sheet.data.value" />
    <EasePanel v-if="ease.data.value" :ease="ease.data.value" />
    <WhatIfPanel
      v-if="sheet.data.value.shape.sections.length"
      :sheet="sheet.data.value"
      :ease="ease.data.value"
    />
    <div class="columns">
      <FoldedPart
        v-if="sheet.data.value.seen.length"
        title="Observed"
        :about="`${sheet.data.value.seen.length} answers from the Bench`"
      >
        <SeenTable :seen="sheet.data.value.seen" />
      </FoldedPart>
      <ModelPanel :model-id="sheet.data.value.model_id" />
    </div>
    <RepeatPanel :sheets="sheet.data.value.sheets" />
    <PhotographPanel :piece-id="sheet.data.value.piece.id" />
    <OutPanel :piece-id="sheet.data.value.piece.id" />
    <ReadingHistory :sheets="sheet.data.value.sheets" :history="sheet.data.value.history" />
    <WhyPanel />
  </article>
</template>

<style scoped>
.title {
  display: flex;
  justify-content: space-between;
  gap: 20px;
  align-items: start;
}

.title h2 {
  border: 0;
  margin: 0;
  padding: 0;
  font-size: var(--size-xl);
}

.title p {
  margin: 2px 0 8px;
}

.actions {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: 8px;
}

.note {
  border-left: 3px solid var(--derived);
  padding-left: 10px;
}

.columns {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
  gap: 36px;
  margin-top: 10px;
}

.columns > section > section {
  margin-top: 20px;
}

h3 {
  margin: 14px 0 4px;
  font-size: var(--size-m);
}

.elevation {
  overflow-x: auto;
}

.under {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 28px;
  margin: 2px 0 0;
  align-items: baseline;
}

.cautions {
  margin: 0;
  padding-left: 18px;
}

@media (max-width: 699px) {
  .columns {
    grid-template-columns: 1fr;
  }

  .title {
    flex-direction: column;
    gap: 4px;
  }

  .actions {
    justify-content: flex-start;
  }
}
</style>
