<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent } from 'vue'
import { api, data } from '@/api/client'
import type { FittedParameter } from '@/api/schema'
import BasisSwitch from '@/parts/BasisSwitch.vue'
import { kitchen } from '@/parts/kitchen'
import { rounded } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import WhiskerBar from '@/parts/WhiskerBar.vue'

/** What cut trials say of the foods: parameters before and after, observed against predicted. */
const ObservedChart = defineAsyncComponent(() => import('./ObservedChart.vue'))

const found = useQuery({
  queryKey: ['cut-trials', 'calibration'],
  queryFn: () => data(api.GET('/api/cut-trials/calibration')),
})
const calibrated = computed(() => kitchen.basis === 'calibrated')
const Z_90 = 1.645
const REACH = Math.log(2.5)
/** On a scale of ratios to what is assumed, in ln. */
const bar = (p: FittedParameter, after: boolean) => {
  const at = after && p.before ? Math.log(p.after / p.before) : 0
  const wide = Z_90 * (after ? p.sd_after : p.sd_before)
  return { central: at, low: at - wide, high: at + wide, from: -REACH, to: REACH }
}
const three = (value: number) => String(Number(value.toPrecision(3)))
const percent = (ln: number | null) =>
  ln === null ? 'none' : `${rounded(100 * (Math.exp(ln) - 1), 0)} %`
const rows = computed(() =>
  (found.data.value?.rows ?? []).map((r) => ({
    kind: r.food_label,
    tag: r.tag,
    predicted: r.assumed_n,
    expected: r.expected_n,
    observed: r.observed_n,
  })),
)
</script>

<template>
  <StateNote
    v-if="!found.data.value"
    :error="found.error.value"
    waiting="Setting the cuts against the model…"
    :retry="() => found.refetch()"
  />
  <div v-else-if="!found.data.value.foods.length" class="empty">
    <p>No cut counts yet: every food is as assumed.</p>
  </div>
  <div v-else class="columns">
    <section aria-label="Observed against predicted">
      <header class="head">
        <h2>Peak force, observed against predicted</h2>
        <BasisSwitch />
      </header>
      <ObservedChart :rows="rows" unit="N" :calibrated="calibrated" />
      <p>
        Typical error of a peak <b>{{ percent(found.data.value.error_assumed) }}</b> with the foods
        as assumed, <b>{{ percent(found.data.value.error_left_out) }}</b> from the trials with each
        knife left out in turn.
        <span class="soft">Scatter of a cut: {{ percent(found.data.value.scatter) }} (1 sd).</span>
      </p>
      <template v-if="found.data.value.left_out.length">
        <h3>Left out</h3>
        <ul>
          <li v-for="cut in found.data.value.left_out" :key="cut.id">
            <RouterLink :to="`/trials/cuts?session=${cut.session_id}`"
              >{{ cut.tag }}, {{ cut.food_label }}</RouterLink
            >
            <span class="rust"> ⚠ {{ cut.why }}</span>
          </li>
        </ul>
      </template>
    </section>
    <section aria-label="Foods before and after">
      <h2>Foods before and after the trials</h2>
      <p class="soft small">
        Ratio to what is assumed; bars hold 90 %, from ÷ 2.5 to × 2.5. What no trial tells stays as
        assumed.
      </p>
      <div v-for="food in found.data.value.foods" :key="food.key" class="food">
        <p>
          <b>{{ food.label }}</b>{{ ' ' }}
          <span class="soft">
            {{ food.knives }} {{ food.knives === 1 ? 'knife' : 'knives' }}, {{ food.cuts }}
            {{ food.cuts === 1 ? 'cut' : 'cuts' }}; a force in the next lot within
            {{ percent(Z_90 * food.spread_after) }}, before
            {{ percent(Z_90 * food.spread_before) }}
          </span>
        </p>
        <template v-for="p in food.parameters" :key="p.key">
          <span>{{ p.label }}</span>
          <span class="number">
            <span class="soft">{{ three(p.before) }} →</span>
            {{ three(p.after) }} <span class="unit">{{ p.unit }}</span>
          </span>
          <span class="bars">
            <WhiskerBar v-bind="bar(p, false)" colour="var(--soft-ink)" thin />
            <WhiskerBar v-bind="bar(p, true)" />
          </span>
        </template>
      </div>
      <p class="small soft">
        Least squares on the logarithm of the force with priors on the three parameters, the lot and
        the knife; edge radius, friction and crushing stay as they are.
        <RouterLink to="/board/foods">All foods</RouterLink>
      </p>
    </section>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 32px;
  margin-top: 12px;
}

.head {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 12px;
}

.food {
  display: grid;
  grid-template-columns: 110px 170px minmax(0, 1fr);
  gap: 4px 10px;
  align-items: center;
  padding-bottom: 10px;
}

.food p {
  grid-column: 1 / -1;
  margin: 4px 0 0;
}

.bars {
  display: grid;
  gap: 2px;
}

h2 {
  margin: 0 0 4px;
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
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }

  .head {
    flex-wrap: wrap;
  }

  .food {
    grid-template-columns: minmax(0, 1fr) auto;
  }

  .bars {
    grid-column: 1 / -1;
  }
}
</style>
