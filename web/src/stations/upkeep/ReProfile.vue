<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, data } from '@/api/client'
import type { AsymmetrySchool, ReprofileOut, WantedIn, WhatIfRow } from '@/api/schema'
import GroundEdge from '@/drawings/GroundEdge.vue'
import CardNote from '@/parts/CardNote.vue'
import { kitchen } from '@/parts/kitchen'
import { likelyText, ratioText, rounded, unitText } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import { timeText, useWrite } from './care'
import { newId } from '@/api/id'

/** From the edge found to the one wanted: what it takes in steel and time, what it gives. */
const props = defineProps<{ pieceId: number }>()

const router = useRouter()
const setup = useQuery({
  queryKey: computed(() => ['upkeep', 'setup', props.pieceId, 'found']),
  retry: false,
  queryFn: () =>
    data(
      api.GET('/api/pieces/{piece_id}/setup', { params: { path: { piece_id: props.pieceId } } }),
    ),
})
const found = computed(() => setup.data.value)
const single = computed(() => found.value?.faces.some((f) => f.flat) ?? false)
const asked = reactive({
  angle: 15,
  ratio: 'keep',
  micro: false,
  school: 'width' as AsymmetrySchool,
})
watch(
  found,
  (now) => {
    if (!now) return
    const lower = Math.round(now.found_angle_deg) - 3
    asked.angle = Math.max(Math.ceil(now.least_angle_deg + 1), lower, 8)
  },
  { immediate: true },
)
const RATIOS = ['keep', '50', '60', '70', '80', '40', '30']
const ratioName = (r: string) =>
  r === 'keep'
    ? `keep ${found.value?.ratio ?? ''}`
    : r === '50'
      ? 'even, 50:50'
      : ratioText(Number(r))
const wanted = computed<WantedIn>(() => ({
  angle_per_side_deg: asked.angle,
  share_right: asked.ratio === 'keep' || single.value ? null : Number(asked.ratio),
  school: asked.school,
  micro_mm: asked.micro ? 0.3 : null,
}))
const query = useQuery({
  queryKey: computed(() => ['upkeep', 'reprofile', props.pieceId, wanted.value, { ...kitchen }]),
  enabled: computed(() => found.value !== undefined),
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () =>
    data(
      api.POST('/api/pieces/{piece_id}/reprofile', {
        params: { path: { piece_id: props.pieceId }, query: { ...kitchen } },
        body: wanted.value,
      }),
    ),
})
const plan = computed<ReprofileOut | undefined>(() => query.data.value)
const steeper = computed(() => asked.angle > (found.value?.found_angle_deg ?? 0))
const accepts = ref(false)
watch(wanted, () => (accepts.value = false))
let clientId = newId()
const order = useWrite(
  async () => {
    const made = await data(
      api.POST('/api/pieces/{piece_id}/reprofile/order', {
        params: { path: { piece_id: props.pieceId } },
        body: { client_id: clientId, wanted: wanted.value, owner_accepts: accepts.value },
      }),
    )
    clientId = newId()
    void router.push(`/upkeep/${props.pieceId}/work`)
    return made
  },
  () => ['upkeep', 'work-of', props.pieceId],
)
const percent = (row: WhatIfRow) =>
  row.percent === null
    ? ''
    : Math.abs(row.percent) < 0.5
      ? 'unchanged'
      : `${row.percent > 0 ? '+' : '−'}${rounded(Math.abs(row.percent), 0)} %`
const shownRows = computed(() => plan.value?.rows.filter((r) => r.measured && r.tried) ?? [])
const value = (e: WhatIfRow['tried']) => (e ? likelyText(e) : '')
</script>

<template>
  <StateNote
    v-if="!found"
    :error="setup.error.value"
    waiting="Looking at the edge…"
    :retry="() => setup.refetch()"
  />
  <div v-else class="reprofile">
    <section aria-label="Wanted">
      <h2>{{ found.piece.tag }}: another edge</h2>
      <p>
        Found {{ rounded(found.found_angle_deg, 1) }}° per side, {{ found.ratio }}
        <span class="soft">({{ found.school }})</span>
      </p>
      <label class="wanted">
        Wanted
        <input
          v-model.number="asked.angle"
          type="range"
          min="8"
          max="28"
          step="0.5"
          aria-label="Angle wanted"
        />
        <b>{{ asked.angle }}°</b>
        <span class="unit">per side, {{ 2 * asked.angle }}° inclusive</span>
      </label>
      <fieldset v-if="!single" class="switch">
        <legend class="small soft">Ratio, right face first</legend>
        <label v-for="r in RATIOS" :key="r" :class="{ on: asked.ratio === r }">
          <input v-model="asked.ratio" type="radio" name="ratio" :value="r" />{{ ratioName(r) }}
        </label>
      </fieldset>
      <p v-else class="soft small">
        A single bevel keeps its ratio: nothing but the burr comes off the back.
      </p>
      <fieldset v-if="asked.ratio !== 'keep' && !single" class="switch">
        <legend class="small soft">Read as</legend>
        <label
          v-for="s in ['width', 'angle'] as AsymmetrySchool[]"
          :key="s"
          :class="{ on: asked.school === s }"
        >
          <input v-model="asked.school" type="radio" name="school" :value="s" />
          {{ s === 'width' ? 'bevel widths' : 'division of the angle' }}
        </label>
      </fieldset>
      <v-checkbox
        v-if="steeper && !single"
        v-model="asked.micro"
        label="only a micro-bevel, 0.3 mm"
      />
      <p v-if="query.error.value" class="rust" role="alert">⚠ {{ query.error.value.message }}</p>
      <template v-if="plan">
        <GroundEdge :plan="plan" />
        <p class="small soft">
          Dashed: as found. Hatched: cut away. Drawn enlarged, both ways alike, seen from the heel.
        </p>
      </template>
    </section>

    <section v-if="plan" aria-label="Plan" :class="{ stale: query.isPlaceholderData.value }">
      <h2>What it takes</h2>
      <p v-for="w in plan.warnings" :key="w" class="rust warning" role="status">⚠ {{ w }}</p>
      <table>
        <thead>
          <tr>
            <th>of the edge</th>
            <th class="number">right face</th>
            <th class="number">left face</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>angle</td>
            <td class="number">
              {{ rounded(plan.found.angle_right_deg, 1) }} →
              {{ rounded(plan.made.angle_right_deg, 1) }} <span class="unit">°</span>
            </td>
            <td class="number">
              {{ rounded(plan.found.angle_left_deg, 1) }} →
              {{ rounded(plan.made.angle_left_deg, 1) }} <span class="unit">°</span>
            </td>
          </tr>
          <tr>
            <td>bevel width</td>
            <td class="number">
              {{ rounded(plan.found.bevel_right_mm, 2) }} →
              {{ rounded(plan.made.bevel_right_mm, 2) }} <span class="unit">mm</span>
            </td>
            <td class="number">
              {{ rounded(plan.found.bevel_left_mm, 2) }} → {{ rounded(plan.made.bevel_left_mm, 2) }}
              <span class="unit">mm</span>
            </td>
          </tr>
          <tr>
            <td>area cut away at the heel</td>
            <td class="number">
              {{ rounded(plan.area_right_mm2, 4) }} <span class="unit">mm²</span>
            </td>
            <td class="number">
              {{ rounded(plan.area_left_mm2, 4) }} <span class="unit">mm²</span>
            </td>
          </tr>
          <tr>
            <td>steel cut away over the edge</td>
            <td class="number grade-G">
              <b>{{ rounded(plan.volume_right_mm3, 1) }}</b> <span class="unit">mm³</span>
            </td>
            <td class="number grade-G">
              <b>{{ rounded(plan.volume_left_mm3, 1) }}</b> <span class="unit">mm³</span>
            </td>
          </tr>
        </tbody>
      </table>
      <dl class="facts">
        <dt v-if="!single">behind the edge</dt>
        <dd v-if="!single">
          {{ rounded(plan.found.behind_edge_mm, 3) }} → {{ rounded(plan.made.behind_edge_mm, 3) }}
          <span class="unit">mm</span>
        </dd>
        <dt>height lost</dt>
        <dd>
          {{ plan.height_lost_mm < 0.005 ? 'none' : `${rounded(plan.height_lost_mm, 2)} mm` }}
        </dd>
        <dt>as much steel as</dt>
        <dd>{{ rounded(plan.worth_sharpenings, 1) }} ordinary sharpenings</dd>
        <dt>time</dt>
        <dd class="grade-P">
          <b>{{ timeText(plan.minutes[0] ?? 0) }}</b>
          <span class="unit"
            >, {{ timeText(plan.minutes[1] ?? 0) }} to {{ timeText(plan.minutes[2] ?? 0) }}</span
          >
          <template v-if="plan.cost"> · {{ rounded(plan.cost, 1) }} at the shop’s rate</template>
        </dd>
        <dt>stones</dt>
        <dd>
          <span v-for="(s, i) in plan.steps" :key="s.grit">
            <template v-if="i"> → </template><b>{{ s.grit }}</b>
            <span class="soft small">
              {{ rounded(s.volume_mm3, 1) }} mm³, {{ timeText(s.minutes) }}</span
            >
          </span>
        </dd>
      </dl>

      <h2>What it gives and takes</h2>
      <p class="said">{{ plan.words.join(' ') }}</p>
      <div class="scroll">
        <table>
          <thead>
            <tr>
              <th>of the knife</th>
              <th class="number">as found</th>
              <th class="number">after</th>
              <th class="number">change, % of as found</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in shownRows" :key="row.key">
              <td>
                {{ row.label }} <span class="unit small">{{ row.grade }}</span>
              </td>
              <td class="number">{{ value(row.measured) }}</td>
              <td class="number">
                {{ value(row.tried) }}
                <span class="unit">{{ unitText(row.unit) }}</span>
              </td>
              <td class="number">{{ percent(row) }}</td>
            </tr>
            <tr v-for="b in plan.bears" :key="b.style">
              <td>
                load borne, {{ labelOf('StrokeStyle', b.style) }} <span class="unit small">P</span>
              </td>
              <td class="number">{{ rounded(b.before, 1) }}</td>
              <td class="number">{{ rounded(b.after, 1) }} <span class="unit">times</span></td>
              <td class="number" :class="{ rust: b.words.startsWith('the edge') }">
                {{ b.words }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <div class="order">
        <v-checkbox
          v-if="plan.turns_even"
          v-model="accepts"
          label="The owner has asked for it and accepts the cost"
        />
        <p v-if="order.error.value" class="rust" role="alert">⚠ {{ order.error.value.message }}</p>
        <v-btn
          v-needs="'measure'"
          color="primary"
          variant="flat"
          :disabled="plan.turns_even && !accepts"
          :loading="order.isPending.value"
          @click="order.mutate(undefined)"
        >
          Order this work
        </v-btn>
      </div>
      <p v-for="caution in plan.cautions" :key="caution" class="soft small">⚠ {{ caution }}</p>
      <CardNote card="reprofile" />
      <CardNote card="stone_time" />
    </section>
  </div>
</template>

<style scoped>
.reprofile {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
  gap: 36px;
}

.wanted {
  display: grid;
  grid-template-columns: auto 1fr auto auto;
  gap: 10px;
  align-items: center;
  margin: 6px 0;
}

fieldset {
  margin-bottom: 8px !important;
}

.warning {
  padding: 8px 12px;
  border-left: 3px solid var(--rust);
}

dd .small {
  margin-left: 4px;
}

.order {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
  margin: 12px 0;
}

p {
  margin: 4px 0;
}

@media (max-width: 699px) {
  .reprofile {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
