<script setup lang="ts">
import { addressOf } from '@/api/base'
import { labelOf, useCatalogue } from '@/api/catalogue'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, data } from '@/api/client'
import type { CountOut, LifeOut, PlanOut } from '@/api/schema'
import LifeCurve from '@/drawings/LifeCurve.vue'
import YearOfCare from '@/drawings/YearOfCare.vue'
import CardNote from '@/parts/CardNote.vue'
import { honed, profile } from '@/parts/profile'
import { inWords, kitchen } from '@/parts/kitchen'
import { expandedText, meanText, rounded } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import CareLog from './CareLog.vue'
import { stateMark, timeText, todayIso, useWrite } from './care'
import { newId } from '@/api/id'
import { dayText } from '@/parts/moments'

/** What sharpening does to this knife over the years, and when it is due in which kitchen. */
const props = defineProps<{ pieceId: number }>()

const queries = useQueryClient()
const { grindOf } = useCatalogue()
const key = () => ['upkeep', 'life', props.pieceId, { ...kitchen }]
const query = useQuery({
  queryKey: computed(key),
  queryFn: () =>
    data(
      api.GET('/api/pieces/{piece_id}/upkeep', {
        params: { path: { piece_id: props.pieceId }, query: { ...kitchen } },
      }),
    ),
})
const life = computed<LifeOut | undefined>(() => query.data.value)

const single = computed(() => grindOf(life.value?.piece.grind)?.single_bevel ?? false)
const counts = computed(() => {
  const l = life.value
  if (!l) return []
  const rows: { name: string; count: CountOut | null; never: string }[] = [
    {
      name: 'until thinning',
      count: l.thinning,
      never: single.value ? 'never: its whole face is sharpened' : 'never before it is worn out',
    },
    { name: 'until the bolster is filed', count: l.bolster, never: '' },
    { name: 'until it is worn out', count: l.end, never: '' },
  ]
  return rows.filter((r) => r.count || r.never)
})
function countText(count: CountOut): string {
  if (count.central < 1) return 'at once'
  const digits = count.central >= 50 ? -1 : 0
  return `${rounded(count.low, digits)} to ${rounded(count.high, digits)}, likely ${rounded(count.central, digits)}`
}
function yearsText(count: CountOut): string {
  const years = count.years[0]
  if (years === undefined) return ''
  return years < 1
    ? `${rounded(12 * years, 0)} months`
    : `${rounded(years, years < 10 ? 1 : 0)} years`
}

const asked = reactive({ label: '', begun: todayIso() })
let clientId = newId()
function again(): void {
  void queries.invalidateQueries({ queryKey: ['upkeep'] })
}
const begin = useWrite(async () => {
  const made = await data(
    api.POST('/api/pieces/{piece_id}/upkeep/plans', {
      params: { path: { piece_id: props.pieceId } },
      body: {
        client_id: clientId,
        label: asked.label,
        kitchen: {
          use: kitchen.use,
          board: kitchen.board,
          technique: kitchen.technique,
          honed: honed.value,
        },
        rods: profile.rods,
        begun_on: asked.begun,
      },
    }),
  )
  clientId = newId()
  asked.label = ''
  return made
})
const justEnded = ref<PlanOut | null>(null)
const end = useMutation({
  mutationFn: ({ plan, ended }: { plan: PlanOut; ended: boolean }) =>
    data(
      api.POST('/api/upkeep/plans/{plan_id}/ended', {
        params: { path: { plan_id: plan.id } },
        body: { ended },
      }),
    ),
  onSuccess: (_, { plan, ended }) => {
    justEnded.value = ended ? plan : null
    again()
  },
})
const often = (plan: PlanOut) => plan.dates.find((d) => d.every_days !== null)
</script>

<template>
  <StateNote
    v-if="!life"
    :error="query.error.value"
    waiting="Reading the log…"
    :retry="() => query.refetch()"
  />
  <div v-else class="life">
    <section aria-label="What sharpening leaves">
      <h2>{{ life.piece.tag }}: what sharpening leaves</h2>
      <p v-if="life.unavailable" class="soft">{{ life.unavailable }}</p>
      <template v-else-if="life.rate">
        <dl class="facts">
          <dt>a sharpening takes</dt>
          <dd class="grade-P">
            <b>{{ meanText(life.rate) }}</b>
            <span class="unit"> ± {{ expandedText(life.rate) }} mm of height</span>
            <span class="soft small">{{ life.rate_words }}</span>
          </dd>
          <dt>height</dt>
          <dd>
            {{ rounded(life.height_now_mm, 1) }}
            <span class="unit"
              >mm now, {{ rounded(life.height_new_mm, 1) }} mm when first measured</span
            >
          </dd>
          <dt v-if="!single">behind the edge</dt>
          <dd v-if="!single">
            {{ rounded(life.behind_now_mm, 2) }}
            <span class="unit"
              >mm now; grows {{ rounded(life.growth_mm, 4) }} mm a sharpening, thinning due at
              {{ rounded(life.behind_due_mm, 2) }} mm</span
            >
          </dd>
          <dt>time</dt>
          <dd>
            {{ timeText(life.sharpening_minutes) }}
            <span class="unit">a sharpening, {{ timeText(life.thinning_minutes) }} a thinning</span>
          </dd>
        </dl>
        <div class="scroll">
          <table>
            <thead>
              <tr>
                <th>what comes</th>
                <th class="number">sharpenings</th>
                <th class="number">in a kitchen: {{ kitchen.use }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in counts" :key="row.name">
                <td>{{ row.name }}</td>
                <td class="number grade-P">{{ row.count ? countText(row.count) : row.never }}</td>
                <td class="number">{{ row.count ? yearsText(row.count) : '' }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <LifeCurve v-if="life.curve.length > 1 && !single" :life="life" />
        <CardNote card="wear" />
      </template>
    </section>

    <section aria-label="Plans">
      <h2>In its kitchens</h2>
      <p v-if="!life.plans.length" class="soft">Not assigned to a kitchen yet.</p>
      <p v-if="justEnded" role="status">
        The plan for {{ justEnded.label }} is ended; its log stays.
        <button
          type="button"
          class="plain link"
          @click="justEnded && end.mutate({ plan: justEnded, ended: false })"
        >
          resume it
        </button>
      </p>
      <p v-if="end.error.value" class="rust" role="alert">⚠ {{ end.error.value.message }}</p>
      <article v-for="plan in life.plans" :key="plan.id" class="plan">
        <h3>
          {{ plan.label }}
          <span class="soft">
            {{ inWords(plan.kitchen) }}
          </span>
        </h3>
        <p v-if="plan.next_due" :class="{ rust: plan.state === 'overdue' }">
          {{ stateMark(plan.state) }} <b>{{ labelOf('EdgeCare', plan.next_due.care) }}</b> about
          {{ dayText(plan.next_due.on) }}
          <span :class="plan.state === 'overdue' ? '' : 'soft'">
            between {{ dayText(plan.next_due.earliest) }} and {{ dayText(plan.next_due.latest)
            }}{{ plan.state === 'rests' ? '' : `: ${plan.state}` }}
          </span>
        </p>
        <p v-if="often(plan)">
          Honed: {{ often(plan)?.words }},
          {{
            often(plan)?.every_days === 1 ? 'every day' : `every ${often(plan)?.every_days} days`
          }}
          of use
        </p>
        <p v-if="plan.why_no_rod" class="soft small">{{ plan.why_no_rod }}</p>
        <YearOfCare v-if="plan.dates.length" :dates="plan.dates" :since="plan.since" />
        <p class="small soft legend">
          ▲ stone, with its limits · ■ thinning · ◆ bolster filed · ticks: rod or strop
        </p>
        <p class="small">
          Since {{ dayText(plan.since) }} ·
          <a :href="addressOf(`/api/upkeep/calendar.ics?plan=${plan.id}`)" download
            >calendar, .ics</a
          >
          ·
          <button
            v-needs="'advise'"
            type="button"
            class="plain link"
            :disabled="end.isPending.value"
            @click="end.mutate({ plan, ended: true })"
          >
            end this plan
          </button>
        </p>
      </article>
      <form v-needs="'advise'" class="begin no-print" @submit.prevent="begin.mutate(undefined)">
        <v-text-field v-model="asked.label" label="kitchen label" maxlength="60" />
        <v-text-field v-model="asked.begun" label="sharpened on" type="date" />
        <v-btn
          type="submit"
          :disabled="!asked.label.trim() || !asked.begun"
          :loading="begin.isPending.value"
        >
          Assign to this kitchen
        </v-btn>
        <p class="soft small">
          {{ inWords(kitchen) }}, {{ honed ? 'honed' : 'never honed' }};
          {{ labelOf('RodSchool', profile.rods) }}. Change it at the
          <RouterLink to="/counter">Counter</RouterLink>. A label, no names of people.
        </p>
        <p v-if="begin.error.value" class="rust" role="alert">⚠ {{ begin.error.value.message }}</p>
      </form>
      <CareLog :piece-id="pieceId" :log="life.log" @changed="again" />
      <p v-for="caution in life.cautions" :key="caution" class="soft small">⚠ {{ caution }}</p>
    </section>
  </div>
</template>

<style scoped>
.life {
  display: grid;
  grid-template-columns: minmax(0, 6fr) minmax(0, 7fr);
  gap: 36px;
}

dd .small {
  display: block;
}

.plan {
  margin-bottom: 16px;
}

h3 {
  font-size: var(--size-m);
  margin: 4px 0;
}

h3 .soft {
  font: var(--size-s) var(--sans);
  margin-left: 8px;
}

p {
  margin: 2px 0;
}

.begin {
  display: grid;
  grid-template-columns: 1fr 170px auto;
  gap: 6px 10px;
  align-items: center;
  margin: 10px 0 20px;
  padding-top: 10px;
  border-top: 1px solid var(--hairline);
}

.begin p {
  grid-column: 1 / -1;
}

@media (max-width: 699px) {
  .life,
  .begin {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
