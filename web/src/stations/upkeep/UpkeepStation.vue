<script setup lang="ts">
import { addressOf } from '@/api/base'
import { labelOf } from '@/api/catalogue'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import type { PlanOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'
import { rounded } from '@/parts/numbers'
import { useHungKnives } from '@/strip/knives'
import { mark } from '@/parts/letters'
import { useHand } from '@/strip/store'
import { stateMark, timeText } from './care'
import { dayText } from '@/parts/moments'

/** What is due in which kitchen, and what the bench has to mend before it is sold. */
const hand = useHand()
const plans = useQuery({
  queryKey: ['upkeep', 'plans'],
  queryFn: () => data(api.GET('/api/upkeep/plans')),
})
const work = useQuery({
  queryKey: ['upkeep', 'work'],
  queryFn: () => data(api.GET('/api/upkeep/work')),
})
const asked = ref('')
const rack = useQuery({
  queryKey: computed(() => ['rack', 'find', asked.value.trim()]),
  enabled: computed(() => asked.value.trim().length > 0),
  queryFn: () =>
    data(api.GET('/api/rack', { params: { query: { search: asked.value.trim(), limit: 6 } } })),
})
const matches = computed(() => (asked.value.trim() ? (rack.data.value?.rows ?? []) : []))
const delivery = ref('')
const deliveries = computed(() =>
  [...new Set((work.data.value?.rows ?? []).map((r) => r.taken_in))].sort(),
)
const rows = computed(() =>
  (work.data.value?.rows ?? []).filter((r) => !delivery.value || r.taken_in === delivery.value),
)
const waiting = computed(() => rows.value.filter((r) => r.shelf !== 'ready'))
const back = computed(() => rows.value.filter((r) => r.shelf === 'ready'))
const sum = (key: 'open_minutes' | 'cost') => rows.value.reduce((total, r) => total + r[key], 0)
const grits = computed(() => [...new Set(rows.value.flatMap((r) => r.grits))].sort((a, b) => a - b))
const materials = computed(() => [...new Set(rows.value.flatMap((r) => r.materials))].sort())
const hung = useHungKnives()
const tags = computed(() => new Map((hung.data.value ?? []).map((k) => [k.id, k.tag])))
const late = computed(() => (plans.data.value ?? []).filter((p) => p.state === 'overdue').length)
const often = (plan: PlanOut) => plan.dates.find((d) => d.every_days !== null)
const honed = (plan: PlanOut) => {
  const d = often(plan)
  if (!d) return plan.why_no_rod ? 'no rod' : 'not honed'
  return `${d.words}, ${d.every_days === 1 ? 'every day' : `every ${d.every_days} days`}`
}
</script>

<template>
  <div class="upkeep">
    <p class="hand">
      <span class="soft">Open a knife:</span>
      <RouterLink v-for="(id, i) in hand.ids" :key="id" :to="`/upkeep/${id}/setup`">
        <b :style="{ color: mark(i).colour }">{{ mark(i).letter }}</b>
        {{ tags.get(id) ?? '' }}
      </RouterLink>
      <label>
        <input v-model="asked" placeholder="tag or name" aria-label="Find a knife" />
      </label>
      <RouterLink v-for="row in matches" :key="row.piece.id" :to="`/upkeep/${row.piece.id}/setup`">
        {{ row.piece.tag }}
      </RouterLink>
      <span v-if="asked.trim() && !matches.length && rack.data.value" class="soft">none</span>
      <RouterLink to="/upkeep/workshop" class="end">Workshop</RouterLink>
    </p>

    <section aria-label="Due">
      <h2>
        Due in the kitchens
        <span v-if="late" class="rust small">⚠ {{ late }} overdue</span>
        <a
          v-if="plans.data.value?.length"
          :href="addressOf('/api/upkeep/calendar.ics')"
          class="small end"
          download
        >
          calendar of all, .ics
        </a>
      </h2>
      <StateNote
        v-if="!plans.data.value"
        :error="plans.error.value"
        waiting="Looking through the plans…"
        :retry="() => plans.refetch()"
      />
      <p v-else-if="!plans.data.value.length" class="soft">
        No knife has a plan yet. Open one and assign it to a kitchen under Life.
      </p>
      <table v-else>
        <thead>
          <tr>
            <th>knife</th>
            <th>kitchen</th>
            <th>next</th>
            <th>when</th>
            <th class="wide">between</th>
            <th class="wide">honed with</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="plan in plans.data.value" :key="plan.id" :class="plan.state">
            <td>
              <RouterLink :to="`/upkeep/${plan.piece_id}/life`" :title="plan.knife">{{
                plan.tag
              }}</RouterLink>
            </td>
            <td>{{ plan.label }}</td>
            <td>
              {{ plan.next_due ? labelOf('EdgeCare', plan.next_due.care) : 'nothing predicted' }}
            </td>
            <td>
              <template v-if="plan.next_due">
                {{ dayText(plan.next_due.on) }}
                <span :class="plan.state === 'overdue' ? 'rust' : 'soft'">
                  {{ stateMark(plan.state) }} {{ plan.state === 'rests' ? '' : plan.state }}
                </span>
              </template>
            </td>
            <td class="soft small wide">
              <template v-if="plan.next_due"
                >{{ dayText(plan.next_due.earliest) }} and
                {{ dayText(plan.next_due.latest) }}</template
              >
            </td>
            <td class="soft wide">{{ honed(plan) }}</td>
          </tr>
        </tbody>
      </table>
      <p class="soft small">
        Dates are estimates within 90 % limits, counted from the last stone in the log: due inside
        them, overdue after.
      </p>
    </section>

    <section aria-label="Open work">
      <h2>
        Work before sale
        <label v-if="deliveries.length > 1" class="small end">
          delivery of
          <select v-model="delivery">
            <option value="">any day</option>
            <option v-for="d in deliveries" :key="d" :value="d">{{ dayText(d) }}</option>
          </select>
        </label>
      </h2>
      <StateNote
        v-if="!work.data.value"
        :error="work.error.value"
        waiting="Looking at the faults…"
        :retry="() => work.refetch()"
      />
      <p v-else-if="!work.data.value.rows.length" class="soft">
        No open faults. Faults marked at the Bench under Finish appear here as repairs.
      </p>
      <template v-else>
        <p>
          <b>{{ timeText(sum('open_minutes')) }}</b> of work on {{ waiting.length }} pieces,
          <b>{{ rounded(sum('cost'), 0) }} {{ work.data.value.currency }}</b>
          <span class="soft">
            at {{ work.data.value.hourly_rate }} an hour · grits {{ grits.join(', ') }} ·
            {{ materials.join(', ') }}
          </span>
        </p>
        <table>
          <thead>
            <tr>
              <th>piece</th>
              <th>the shelf says</th>
              <th class="number wide">faults</th>
              <th class="number wide">ordered</th>
              <th class="number">to do</th>
              <th class="number wide">taken</th>
              <th class="number">cost</th>
              <th class="number wide">taken in</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in [...waiting, ...back]" :key="row.piece_id">
              <td>
                <RouterLink :to="`/upkeep/${row.piece_id}/work`">{{ row.tag }}</RouterLink>
                <span class="soft small name">{{ row.name.replace(` · ${row.tag}`, '') }}</span>
              </td>
              <td :class="{ rust: row.shelf === 'return' }">
                {{ row.shelf === 'ready' ? '✓ ' : row.shelf === 'return' ? '⚠ ' : ''
                }}{{ labelOf('Shelf', row.shelf) }}
              </td>
              <td class="number wide">{{ row.faults || '' }}</td>
              <td class="number wide">{{ row.open_repairs || '' }}</td>
              <td class="number">{{ row.open_minutes ? timeText(row.open_minutes) : '' }}</td>
              <td class="number wide">
                {{ row.taken_minutes ? timeText(row.taken_minutes) : '' }}
              </td>
              <td class="number">{{ row.cost ? rounded(row.cost, 1) : '' }}</td>
              <td class="number soft small wide">{{ dayText(row.taken_in) }}</td>
            </tr>
          </tbody>
        </table>
      </template>
    </section>
  </div>
</template>

<style scoped>
.hand {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  margin: 2px 0 14px;
}

.hand input {
  width: 130px;
}

h2 {
  display: flex;
  align-items: baseline;
  gap: 14px;
}

h2 .small {
  font-family: var(--sans);
  font-weight: 400;
}

section {
  margin-bottom: 26px;
}

section p {
  margin: 4px 0 8px;
}

.name {
  margin-left: 10px;
}

td {
  white-space: nowrap;
}

@media (max-width: 699px) {
  .wide,
  .name {
    display: none;
  }

  td {
    white-space: normal;
  }
}
</style>
