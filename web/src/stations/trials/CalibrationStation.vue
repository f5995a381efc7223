<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref } from 'vue'
import { api, data } from '@/api/client'
import type { ClassOut, TargetOut } from '@/api/schema'
import BasisSwitch from '@/parts/BasisSwitch.vue'
import { kitchen } from '@/parts/kitchen'
import { rounded } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import WhiskerBar from '@/parts/WhiskerBar.vue'
import { dayText } from '@/parts/moments'

/** What the shop's trials say of the models, before and after. */
const ObservedChart = defineAsyncComponent(() => import('./ObservedChart.vue'))

const found = useQuery({
  queryKey: ['trials', 'calibration'],
  queryFn: () => data(api.GET('/api/trials/calibration')),
})
const key = ref('card_test')
const target = computed<TargetOut | undefined>(() =>
  found.data.value?.targets.find((t) => t.key === key.value),
)
const calibrated = computed(() => kitchen.basis === 'calibrated')
const percent = (share: number | null) => (share === null ? 'none' : `${rounded(100 * share, 0)} %`)
const signed = (value: number) => `${value < -0.5 ? '−' : '+'}${Math.abs(Math.round(value))}`
const REACH = 80
const WIDTH_TO_90 = 1.645 / 2
const bar = ([mean = 0, u = 0]: number[]) => ({
  central: mean,
  low: mean - WIDTH_TO_90 * u,
  high: mean + WIDTH_TO_90 * u,
  from: -REACH,
  to: REACH,
})
const tried = (classes: ClassOut[]) =>
  [...classes].sort((a, b) => b.pieces - a.pieces || a.grade_class.localeCompare(b.grade_class))
</script>

<template>
  <StateNote
    v-if="!found.data.value"
    :error="found.error.value"
    waiting="Setting the trials against the predictions…"
    :retry="() => found.refetch()"
  />
  <div v-else-if="target" class="calibration">
    <nav class="tabs" aria-label="Predictions that trials calibrate">
      <RouterLink to="/trials">‹ Trials</RouterLink>
      <button
        v-for="t in found.data.value.targets"
        :key="t.key"
        type="button"
        class="plain"
        :class="{ on: t.key === key }"
        :aria-pressed="t.key === key"
        @click="key = t.key"
      >
        {{ t.label }} <span class="soft">{{ t.rows.length }}</span>
      </button>
      <RouterLink to="/trials/cuts?part=foods">Foods</RouterLink>
      <span class="switch"
        ><span class="soft small">On Sheet and Board:</span> <BasisSwitch
      /></span>
    </nav>

    <div class="columns">
      <section aria-label="Observed against predicted">
        <h2>
          Observed against predicted,
          <span class="grade-R">{{ calibrated ? 'calibrated' : 'published' }}</span>
        </h2>
        <ObservedChart
          v-if="target.rows.length"
          :rows="target.rows.map((r) => ({ ...r, kind: labelOf('GradeClass', r.grade_class) }))"
          :unit="target.unit"
          :calibrated="calibrated"
        />
        <p v-else class="soft">
          No trial counts here yet. Card tests calibrate the card test and, by the class of the
          grade, the months to the stone; kitchen logs calibrate both kitchen intervals.
        </p>
        <p v-if="target.rows.length">
          Typical error <b>{{ percent(target.error_published) }}</b> as published,
          <b>{{ percent(target.error_left_out) }}</b> calibrated with each knife left out in turn;
          {{ target.inside }} of {{ target.rows.length }} inside their 90 % interval.
          <span class="soft">
            Scatter between knives: {{ percent(target.scatter_before) }} assumed,
            {{ percent(target.scatter_after) }} now (1 sd).
          </span>
        </p>
        <table v-if="target.rows.length">
          <thead>
            <tr>
              <th>knife</th>
              <th>class</th>
              <th class="number">published</th>
              <th class="number">from the others, 90 %</th>
              <th class="number">observed, {{ target.unit }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in target.rows" :key="row.piece_id">
              <td>
                <RouterLink :to="`/trials?trial=${row.trial_ids[0]}`">{{ row.tag }}</RouterLink>
              </td>
              <td class="soft">{{ labelOf('GradeClass', row.grade_class) }}</td>
              <td class="number">{{ rounded(row.predicted, row.predicted > 20 ? 0 : 1) }}</td>
              <td class="number">
                {{ rounded(row.expected_low, row.expected > 20 ? 0 : 1) }} to
                {{ rounded(row.expected_high, row.expected > 20 ? 0 : 1) }}
              </td>
              <td class="number">
                <span class="grade-M">{{ rounded(row.observed, row.observed > 20 ? 0 : 1) }}</span>
                <span v-if="!row.inside" class="rust"> ⚠ outside</span>
              </td>
            </tr>
          </tbody>
        </table>
      </section>

      <section aria-label="Before and after">
        <h2>Before and after the trials</h2>
        <p class="soft small">
          What this shop finds over what is published, per cent, shop and class of grades together;
          bars hold 90 %, from −{{ REACH }} to +{{ REACH }} %.
        </p>
        <div v-for="c in tried(target.classes)" :key="c.grade_class" class="class">
          <p>
            {{ labelOf('GradeClass', c.grade_class) }}
            <span class="soft">{{ c.pieces ? `${c.pieces} tried` : 'none tried' }}</span>
          </p>
          <span class="soft small">before</span>
          <WhiskerBar v-bind="bar(c.before)" colour="var(--soft-ink)" />
          <span class="number small soft">± {{ Math.round(c.before[1] ?? 0) }} %</span>
          <span class="small">after</span>
          <WhiskerBar v-bind="bar(c.after)" />
          <span class="number">
            {{ signed(c.after[0] ?? 0) }}
            <span class="soft">± {{ Math.round(c.after[1] ?? 0) }} %</span>
          </span>
        </div>
        <p class="small soft">
          U with k = 2. Coefficients
          <RouterLink to="/office">{{
            found.data.value.coefficients_version === null
              ? 'as published'
              : `version ${found.data.value.coefficients_version}`
          }}</RouterLink>. A conjugate Bayesian update: shop offset + class offset + scatter between
          knives; several trials of one knife count as one.
        </p>
        <template v-if="found.data.value.try_next.length">
          <h3>What to try next</h3>
          <ul>
            <li v-for="step in found.data.value.try_next" :key="step.grade_class">
              One card test of <b>{{ labelOf('GradeClass', step.grade_class) }}</b> narrows its
              predictions by {{ percent(step.gain) }}:
              <span class="soft">{{ step.knives.join(', ') }}</span>
            </li>
          </ul>
        </template>
        <template v-if="found.data.value.left_out.length">
          <h3>
            Left out <span class="unit">{{ found.data.value.left_out_total }}</span>
          </h3>
          <ul>
            <li v-for="trial in found.data.value.left_out" :key="trial.id">
              <RouterLink :to="`/trials?trial=${trial.id}`">
                {{ trial.tag }}, {{ labelOf('TrialKind', trial.kind) }},
                {{ dayText(trial.started_at) }}
              </RouterLink>
              <span class="rust"> ⚠ {{ trial.left_out.join('; ') }}</span>
            </li>
          </ul>
        </template>
      </section>
    </div>
  </div>
</template>

<style scoped>
.switch {
  margin-left: auto;
}

.columns {
  display: grid;
  grid-template-columns: minmax(0, 7fr) minmax(0, 5fr);
  gap: 32px;
  margin-top: 12px;
}

.class {
  display: grid;
  grid-template-columns: 46px minmax(0, 1fr) 92px;
  gap: 0 8px;
  align-items: center;
  padding-bottom: 6px;
}

.class p {
  grid-column: 1 / -1;
  margin: 4px 0 0;
}

h3 {
  margin: 12px 0 4px;
  font-size: var(--size-m);
}

ul {
  margin: 0;
  padding-left: 18px;
}

@media (max-width: 699px) {
  .calibration table {
    display: block;
    overflow-x: auto;
  }

  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
