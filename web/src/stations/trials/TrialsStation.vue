<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { keepPreviousData, useQueries, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, data } from '@/api/client'
import type { TrialKind, TrialOut, WholeTrial } from '@/api/schema'
import { rangeText, rounded } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import WhiskerBar from '@/parts/WhiskerBar.vue'
import { useHand } from '@/strip/store'
import NewTrial from './NewTrial.vue'
import TrialPanel from './TrialPanel.vue'
import { marksOf, trialChanged } from './trials'
import { dayText } from '@/parts/moments'

/** Edge trials: several knives on one chart, one trial opened below. */
const DeclineChart = defineAsyncComponent(() => import('./DeclineChart.vue'))
const MOST = 6
const PAGE = 60

const route = useRoute()
const router = useRouter()
const hand = useHand()
const queries = useQueryClient()
const kind = ref<TrialKind>('card')
const limit = ref(PAGE)
const list = useQuery({
  queryKey: computed(() => ['trials', 'list', kind.value, limit.value]),
  placeholderData: keepPreviousData,
  queryFn: () =>
    data(api.GET('/api/trials', { params: { query: { kind: kind.value, limit: limit.value } } })),
})
const kinds = computed(() => Object.keys(list.data.value?.counts ?? {}) as TrialKind[])
const beginning = ref(route.query.new !== undefined)
const piece = computed(() => Number(route.query.piece) || undefined)
const trials = computed(() =>
  (list.data.value?.trials ?? []).filter((trial) => trial.kind === kind.value),
)
const drawn = ref<number[]>([])
const opened = computed(() => Number(route.query.trial) || drawn.value[0] || trials.value[0]?.id)

/** To begin with, those of the knives in hand, else the newest that count. */
watch(
  trials,
  (now) => {
    const still = drawn.value.filter((id) => now.some((t) => t.id === id))
    if (still.length) {
      drawn.value = still
      return
    }
    const held = now.filter((t) => hand.ids.includes(t.piece_id))
    const counting = now.filter((t) => !t.left_out.length)
    drawn.value = (held.length ? held : counting).slice(0, held.length ? MOST : 4).map((t) => t.id)
  },
  { immediate: true },
)

const wholes = useQueries({
  shallow: true,
  queries: computed(() =>
    [...new Set([...drawn.value, opened.value])]
      .filter((id): id is number => id !== undefined)
      .map((id) => ({
        queryKey: ['trials', id],
        queryFn: () =>
          data(api.GET('/api/trials/{trial_id}', { params: { path: { trial_id: id } } })),
      })),
  ),
})
const byId = computed(
  () =>
    new Map<number, WholeTrial>(
      wholes.value.flatMap((query) => (query.data ? [[query.data.id, query.data]] : [])),
    ),
)
/** A trial opened by a link is shown among its own kind. */
watch(
  () => byId.value.get(Number(route.query.trial))?.kind,
  (asked) => {
    if (asked) kind.value = asked
  },
  { immediate: true },
)
/** In the order they were drawn, so that none changes its hue when another comes. */
const chosen = computed(() =>
  drawn.value.flatMap((id) => trials.value.find((t) => t.id === id) ?? []),
)
const marks = computed(() => marksOf(chosen.value, hand.ids))
const markOf = (trial: TrialOut) => {
  const at = chosen.value.indexOf(trial)
  return at < 0 ? null : marks.value[at]
}
const curves = computed(() => {
  const found = chosen.value.flatMap((t, i) => {
    const whole = byId.value.get(t.id)
    return whole && marks.value[i] ? [{ whole, style: marks.value[i] }] : []
  })
  return { trials: found.map((f) => f.whole), marks: found.map((f) => f.style) }
})
const charted = computed(() => kind.value === 'card' || kind.value === 'line')

/** Figures of the chosen trials that have no curve, on one scale for each figure. */
const scales = computed(() => {
  const rows = curves.value.trials.flatMap((trial, i) =>
    trial.found.map((f) => ({ ...f, trial, style: curves.value.marks[i] })),
  )
  return [...new Set(rows.map((r) => r.label))].map((label) => {
    const mine = rows.filter((r) => r.label === label)
    return { label, rows: mine, to: 1.1 * Math.max(...mine.map((r) => r.high)) }
  })
})

function open(id: number): void {
  beginning.value = false
  void router.replace({
    query: { ...route.query, trial: String(id), new: undefined, piece: undefined },
  })
}
function draw(id: number): void {
  drawn.value = drawn.value.includes(id)
    ? drawn.value.filter((other) => other !== id)
    : [...drawn.value, id].slice(-MOST)
}
function begun(trial: WholeTrial): void {
  kind.value = trial.kind
  trialChanged(queries, trial)
  drawn.value = [...drawn.value, trial.id].slice(-MOST)
  open(trial.id)
}
function choose(wanted: TrialKind): void {
  limit.value = PAGE
  kind.value = wanted
  void router.replace({ query: { ...route.query, trial: undefined } })
}
</script>

<template>
  <StateNote
    v-if="!list.data.value"
    :error="list.error.value"
    waiting="Fetching the trials…"
    :retry="() => list.refetch()"
  />
  <div v-else class="trials">
    <nav class="tabs" aria-label="Kinds of trial">
      <button
        v-for="k in kinds"
        :key="k"
        type="button"
        class="plain"
        :class="{ on: k === kind }"
        :aria-pressed="k === kind"
        @click="choose(k)"
      >
        {{ labelOf('TrialKind', k) }} <span class="soft">{{ list.data.value.counts[k] }}</span>
      </button>
      <RouterLink to="/trials/cuts">Cut trials</RouterLink>
      <RouterLink to="/trials/calibration">Calibration</RouterLink>
      <v-btn v-needs="'measure'" variant="flat" color="primary" @click="beginning = true"
        >New trial</v-btn
      >
    </nav>
    <div class="columns">
      <section aria-label="Trials of this kind">
        <table v-if="trials.length">
          <thead>
            <tr>
              <th></th>
              <th>knife</th>
              <th>found</th>
              <th class="number">day</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="trial in trials" :key="trial.id" :class="{ here: trial.id === opened }">
              <td>
                <button
                  type="button"
                  class="plain draw"
                  :aria-pressed="drawn.includes(trial.id)"
                  :aria-label="`Draw ${trial.tag} of ${dayText(trial.started_at)}`"
                  @click="draw(trial.id)"
                >
                  <svg viewBox="0 0 26 10" aria-hidden="true">
                    <line
                      v-if="markOf(trial)"
                      x1="1"
                      x2="25"
                      y1="5"
                      y2="5"
                      :stroke="markOf(trial)?.colour"
                      :stroke-dasharray="markOf(trial)?.dash"
                    />
                    <rect v-else x="8.5" y="0.5" width="9" height="9" rx="1" />
                  </svg>
                </button>
              </td>
              <td>
                <button type="button" class="plain name" @click="open(trial.id)">
                  {{ trial.tag }}
                </button>
              </td>
              <td>
                <button type="button" class="plain" @click="open(trial.id)">
                  {{ trial.summary }}
                </button>
                <span v-if="trial.left_out.length" class="rust small">
                  ⚠ {{ trial.set_aside ? 'set aside' : 'does not count' }}
                </span>
              </td>
              <td class="number soft small">{{ dayText(trial.started_at) }}</td>
            </tr>
          </tbody>
        </table>
        <div v-else class="empty">
          <p>
            No {{ labelOf('TrialKind', kind) }} yet. Begin one: every trial narrows the predictions
            for its grades.
          </p>
        </div>
      </section>
      <div>
        <NewTrial
          v-if="beginning"
          :kinds="kinds"
          :kind="kind"
          :tester="list.data.value.tester"
          :piece="piece"
          @begun="begun"
          @leave="beginning = false"
        />
        <template v-else>
          <div v-if="charted && drawn.length" class="chart-room">
            <DeclineChart v-if="curves.trials.length" v-bind="curves" />
          </div>
          <template v-for="scale in charted ? [] : scales" :key="scale.label">
            <h3>
              {{ scale.label }} <span class="unit">0 to {{ rounded(scale.to, 0) }}</span>
            </h3>
            <div v-for="row in scale.rows" :key="row.trial.id" class="scale">
              <span>{{ row.trial.tag }}</span>
              <WhiskerBar
                :central="row.value"
                :low="row.low"
                :high="row.high"
                :from="0"
                :to="scale.to"
                :colour="row.style?.colour"
                :dash="row.style?.dash"
              />
              <span class="number">
                {{ rangeText(row) }} <span class="unit">{{ row.unit }}</span>
              </span>
            </div>
          </template>
          <TrialPanel
            v-if="opened !== undefined && byId.get(opened)"
            :trial="byId.get(opened) as WholeTrial"
          />
        </template>
      </div>
    </div>
  </div>
</template>

<style scoped>
/* As high as the chart that comes: what is below stays where it is. */
.chart-room {
  min-height: 270px;
}

.tabs .v-btn {
  margin-left: auto;
}

.columns {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
  gap: 32px;
  margin-top: 12px;
}

tr.here td {
  background: var(--panel);
}

.draw svg {
  width: 30px;
  height: 12px;
  fill: none;
  stroke: var(--soft-ink);
  stroke-width: 1;
}

.draw line {
  stroke-width: 2.5;
}

.draw {
  padding: 6px 4px 6px 0;
}

.name {
  white-space: nowrap;
  font-weight: 600;
}

h3 {
  margin: 10px 0 2px;
  font-size: var(--size-m);
}

.scale {
  display: grid;
  grid-template-columns: 70px minmax(0, 1fr) 150px;
  gap: 10px;
  align-items: center;
}

@media (max-width: 699px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
