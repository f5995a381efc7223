<script setup lang="ts">
import { addressOf } from '@/api/base'
import { labelOf, useCatalogue } from '@/api/catalogue'
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, reactive } from 'vue'
import { api, data } from '@/api/client'
import { newId } from '@/api/id'
import type { PeakIn, TriedCut, WholeCutSession } from '@/api/schema'
import BasisSwitch from '@/parts/BasisSwitch.vue'
import { kitchen } from '@/parts/kitchen'
import { MARKS } from '@/parts/letters'
import LineKey from '@/parts/LineKey.vue'
import { rounded } from '@/parts/numbers'
import KnifePicker from './KnifePicker.vue'
import { cutsChanged } from './trials'
import { dayText } from '@/parts/moments'

/** One session: force against depth by food, each knife beside the model, and its cuts in a table. */
const CutChart = defineAsyncComponent(() => import('./CutChart.vue'))
const props = defineProps<{ session: WholeCutSession; scale: string }>()

const queries = useQueryClient()
const { catalogue } = useCatalogue()
const calibrated = computed(() => kitchen.basis === 'calibrated')
const knives = computed(() => [...new Set(props.session.tried.map((c) => c.tag))])
const markOf = (tag: string) => MARKS[knives.value.indexOf(tag) % MARKS.length] ?? MARKS[0]!
const byFood = computed(() =>
  [...new Set(props.session.tried.map((c) => c.food))].map((food) => {
    const cuts = props.session.tried.filter((c) => c.food === food)
    const curves = cuts.filter((c) => c.depth_mm.length > 1)
    return { food, label: cuts[0]?.food_label ?? food, cuts, curves }
  }),
)
/** The model's force where the cut's own peak stands. */
function modelled(cut: TriedCut, forces: number[]): string {
  const at = cut.force_n.indexOf(Math.max(...cut.force_n))
  const force = forces[at]
  return force === undefined ? '' : rounded(force, 1)
}

const next = reactive<{
  piece: number | null
  food: string
  stroke: PeakIn['stroke']
  lot: string
  peak: string
}>({ piece: null, food: '', stroke: 'push', lot: '', peak: '' })
const food = computed(() => next.food || (catalogue.value?.foods[0]?.key ?? ''))
const peak = computed(() => Number(next.peak.replace(',', '.')))
const path = computed(() => ({ path: { session_id: props.session.id } }))
const add = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/cut-trials/{session_id}/cuts', {
        params: path.value,
        body: {
          cuts: [
            {
              client_id: newId(),
              piece_id: next.piece ?? 0,
              food: food.value,
              stroke: next.stroke,
              lot: next.lot,
              force_n: [peak.value],
            },
          ],
        },
      }),
    ),
  onSuccess: (now) => {
    next.peak = ''
    cutsChanged(queries, now)
  },
})
const take = useMutation({
  mutationFn: async () => {
    await data(
      api.POST('/api/cut-trials/{session_id}/peak', {
        params: path.value,
        body: {
          piece_id: next.piece ?? 0,
          food: food.value,
          stroke: next.stroke,
          lot: next.lot,
        },
      }),
    )
    return data(api.GET('/api/cut-trials/{session_id}', { params: path.value }))
  },
  onSuccess: (now) => cutsChanged(queries, now),
})
const aside = useMutation({
  mutationFn: (cut: TriedCut) =>
    data(
      api.POST('/api/cut-trials/cuts/{cut_id}/aside', {
        params: { path: { cut_id: cut.id } },
        body: { reason: cut.set_aside ? '' : 'set aside in the session' },
      }),
    ),
  onSuccess: (now) => cutsChanged(queries, now),
})
const failed = computed(() => add.error.value ?? take.error.value ?? aside.error.value)
</script>

<template>
  <section :aria-label="`Session of ${dayText(session.started_at)}`">
    <header class="head">
      <h2>
        {{ dayText(session.started_at) }}
        <span class="unit">edges {{ labelOf('EdgeState', session.edge) }}</span>
      </h2>
      <BasisSwitch />
    </header>
    <p class="soft small">
      {{ session.note }}
      Points are what was read; lines are the model,
      {{ calibrated ? 'with the foods as all cut trials have them' : 'with the foods as assumed' }}.
      <a :href="addressOf(`/api/cut-trials/${session.id}/cuts.csv`)" download>CSV</a>
    </p>
    <div class="charts">
      <figure v-for="one in byFood.filter((f) => f.curves.length)" :key="one.food">
        <figcaption>{{ one.label }}</figcaption>
        <CutChart
          :cuts="one.curves"
          :marks="one.curves.map((c) => markOf(c.tag))"
          :calibrated="calibrated"
          :label="one.label"
        />
      </figure>
    </div>
    <LineKey :lines="knives.map((tag) => ({ name: tag, ...markOf(tag) }))" aria-label="Knives" />
    <div v-if="session.tried.length" class="scroll">
      <table>
        <thead>
          <tr>
            <th>knife</th>
            <th>food</th>
            <th class="number">peak, N</th>
            <th class="number">as assumed</th>
            <th class="number">from the trials</th>
            <th>lot and remarks</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="cut in session.tried" :key="cut.id">
            <td>
              <RouterLink :to="`/sheet/${cut.piece_id}`">{{ cut.tag }}</RouterLink>
            </td>
            <td>
              {{ cut.food_label
              }}<span v-if="cut.stroke !== 'push'" class="soft">, {{ cut.stroke }}</span>
            </td>
            <td class="number">
              <span class="grade-M">{{ cut.peak_n === null ? '' : rounded(cut.peak_n, 1) }}</span>
            </td>
            <td class="number soft">{{ modelled(cut, cut.assumed_n) }}</td>
            <td class="number">{{ modelled(cut, cut.calibrated_n) }}</td>
            <td class="small">
              <span class="soft">{{ cut.lot }}</span>
              <span v-for="note in cut.notes" :key="note" class="soft"> {{ note }}.</span>
              <span v-if="cut.left_out" class="rust"> ⚠ does not count: {{ cut.left_out }}</span>
            </td>
            <td>
              <button
                v-needs="'measure'"
                type="button"
                class="plain small"
                :aria-label="`${cut.set_aside ? 'Count again' : 'Set aside'} ${cut.tag} in ${cut.food_label}`"
                @click="aside.mutate(cut)"
              >
                {{ cut.set_aside ? 'count again' : 'set aside' }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <form v-needs="'measure'" class="add" aria-label="Another cut" @submit.prevent="add.mutate()">
      <h3>Another cut</h3>
      <div class="fields">
        <KnifePicker v-model="next.piece" />
        <v-select
          :model-value="food"
          :items="(catalogue?.foods ?? []).map((f) => ({ value: f.key, title: f.label }))"
          label="Food"
          @update:model-value="next.food = $event"
        />
        <v-select
          v-model="next.stroke"
          :items="(catalogue?.strokes ?? []).map((s) => ({ value: s.key, title: s.label }))"
          label="Motion"
        />
        <v-text-field v-model="next.lot" label="Lot" maxlength="80" />
        <v-text-field v-model="next.peak" label="Peak, N" inputmode="decimal" />
      </div>
      <p class="buttons">
        <v-btn
          type="submit"
          variant="flat"
          color="primary"
          :disabled="next.piece === null || !(peak > 0)"
          :loading="add.isPending.value"
          >Add the peak</v-btn
        >
        <v-btn
          :disabled="next.piece === null || !scale"
          :loading="take.isPending.value"
          @click="take.mutate()"
          >Cut on the scale</v-btn
        >
        <span class="soft small">
          {{
            scale
              ? `On the line: ${scale}. It holds the peak.`
              : 'No scale is on the line: type what it shows.'
          }}
          Cut away from the hand that holds the food, fingers curled.
        </span>
      </p>
      <p v-if="failed" class="rust" role="alert">⚠ {{ failed.message }}</p>
    </form>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  align-items: baseline;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 12px;
}

h2,
p {
  margin: 0 0 6px;
}

h3 {
  margin: 14px 0 6px;
  font-size: var(--size-m);
}

.charts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(230px, 1fr));
  gap: 16px;
}

figure {
  margin: 0;
}

figcaption {
  font-weight: 600;
}

.fields {
  display: grid;
  grid-template-columns: minmax(0, 3fr) repeat(3, minmax(0, 2fr)) minmax(0, 1fr);
  gap: 10px;
}

td:first-child,
td:last-child {
  white-space: nowrap;
}

@media (max-width: 699px) {
  .fields {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
