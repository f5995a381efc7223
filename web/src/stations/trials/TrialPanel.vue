<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { WholeTrial } from '@/api/schema'
import { decimalsFor, rangeText, rounded } from '@/parts/numbers'
import ProtocolFields from './ProtocolFields.vue'
import { draftOf, protocolOf, unreadable } from './protocol'
import { trialChanged } from './trials'
import TrialPoints from './TrialPoints.vue'
import { dayText } from '@/parts/moments'

/** One trial: what it found beside what was predicted, how it was done, its points. */
const props = defineProps<{ trial: WholeTrial }>()

const queries = useQueryClient()
const path = computed(() => ({
  params: { path: { trial_id: props.trial.id }, header: { 'If-Match': props.trial.etag } },
}))

const shown = (trial: WholeTrial) => trialChanged(queries, trial)

const half = (low: number | null | undefined) =>
  low == null ? '…' : rounded(low, low < 10 ? 1 : 0)
const unit = computed(() => (props.trial.kind === 'card' ? 'cycles' : 'cuts'))
const value = (of: { value: number; low: number; high: number }) =>
  rounded(of.value, decimalsFor(of.high - of.low))

const describing = ref(false)
const draft = ref(draftOf(props.trial.protocol, props.trial.kind))
watch(
  () => props.trial.id,
  () => (describing.value = false),
)
function edit(): void {
  draft.value = draftOf(props.trial.protocol, props.trial.kind)
  describing.value = true
}
const describe = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/trials/{trial_id}/protocol', {
        ...path.value,
        body: protocolOf(draft.value, props.trial.kind),
      }),
    ),
  onSuccess: (trial) => {
    describing.value = false
    shown(trial)
  },
})
const reason = ref('')
const aside = useMutation({
  mutationFn: (why: string) =>
    data(api.POST('/api/trials/{trial_id}/aside', { ...path.value, body: { reason: why } })),
  onSuccess: (trial) => {
    reason.value = ''
    shown(trial)
  },
})

const stated = computed(() => {
  const p = props.trial.protocol
  const rows: [string, string][] = [
    ['edge', p.edge_preparation ?? ''],
    ['angle', p.angle_per_side_deg ? `${p.angle_per_side_deg}° per side` : ''],
    ['grit', p.grit ?? ''],
    ['cut', p.medium ?? ''],
    ['load', p.load_n ? `${p.load_n} N` : ''],
    ['stroke', p.stroke_mm ? `${p.stroke_mm} mm at ${p.speed_mm_s ?? '…'} mm/s` : ''],
    [
      'kitchen',
      p.kitchen
        ? `${p.kitchen.use} use, ${labelOf('BoardMaterial', p.kitchen.board)}, ${labelOf('Technique', p.kitchen.technique)} technique, ${
            p.kitchen.honed ? 'honed regularly' : 'never honed'
          }`
        : '',
    ],
  ]
  return rows.filter(([, told]) => told)
})
</script>

<template>
  <section class="trial" aria-label="The trial">
    <h2>{{ trial.tag }}, {{ labelOf('TrialKind', trial.kind) }}</h2>
    <p class="soft">
      {{ trial.knife }} · {{ dayText(trial.started_at) }}, {{ trial.person }}
      <template v-if="trial.simulated"> · simulated tester</template>
      <template v-if="trial.note"> · {{ trial.note }}</template>
    </p>
    <div v-if="trial.left_out.length" class="rust out">
      <p><strong>⚠ Left out of calibration:</strong> {{ trial.left_out.join('; ') }}.</p>
    </div>

    <table v-if="trial.found.length">
      <thead>
        <tr>
          <th>found</th>
          <th class="number">value, 90 %</th>
          <th class="number">published prediction</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="f in trial.found" :key="f.key">
          <td>
            {{ f.label }} <span v-if="f.note" class="soft small">{{ f.note }}</span>
          </td>
          <td class="number">
            <span class="grade-M">{{ value(f) }}</span>
            <span class="soft"> ({{ rangeText(f) }})</span> <span class="unit">{{ f.unit }}</span>
          </td>
          <td class="number">
            <template v-if="f.predicted_low !== null && f.predicted_high !== null">
              {{ rangeText({ low: f.predicted_low, high: f.predicted_high }) }}
            </template>
            <span v-else class="soft">none</span>
          </td>
          <td>
            <span v-if="f.predicted_low === null || f.predicted_high === null"></span>
            <span v-else-if="f.value > f.predicted_high" class="rust">▲ above</span>
            <span v-else-if="f.value < f.predicted_low" class="rust">▼ below</span>
            <span v-else class="soft">inside</span>
          </td>
        </tr>
      </tbody>
    </table>

    <table v-if="trial.fits.length">
      <thead>
        <tr>
          <th>decline</th>
          <th class="number">rate, 90 %</th>
          <th class="number">half the sharpness after, {{ unit }}</th>
          <th class="number">misfit</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(fit, i) in trial.fits" :key="fit.form">
          <td>
            {{ labelOf('Form', fit.form) }}
            <span v-if="i === 0" class="soft small">fits better, drawn</span>
          </td>
          <td class="number">
            {{ rangeText({ low: fit.rate[1] ?? 0, high: fit.rate[2] ?? 0 }) }}
          </td>
          <td class="number">
            {{ half(fit.half_life[0]) }}
            <span class="soft">({{ half(fit.half_life[1]) }} to {{ half(fit.half_life[2]) }})</span>
          </td>
          <td class="number">{{ rounded(100 * fit.misfit, 1) }} %</td>
        </tr>
      </tbody>
    </table>

    <h3>Protocol</h3>
    <form v-if="describing" @submit.prevent="describe.mutate()">
      <ProtocolFields v-model="draft" :kind="trial.kind" />
      <p v-if="describe.error.value" class="rust" role="alert">
        ⚠ {{ describe.error.value.message }}
      </p>
      <p class="buttons">
        <v-btn
          type="submit"
          variant="flat"
          color="primary"
          :disabled="unreadable(draft).length > 0"
        >
          Save the protocol
        </v-btn>
        <v-btn variant="text" @click="describing = false">Cancel</v-btn>
      </p>
    </form>
    <template v-else>
      <p>
        <template v-for="([name, told], i) in stated" :key="name">
          <template v-if="i"> · </template><span class="soft">{{ name }}</span> {{ told }}
        </template>
        <span v-if="!stated.length" class="soft">Not stated yet.</span>
        <button v-needs="'measure'" type="button" class="plain link" @click="edit">change</button>
      </p>
    </template>

    <TrialPoints :trial="trial" @shown="shown" />

    <form v-needs="'measure'" class="entry" @submit.prevent="aside.mutate(reason)">
      <template v-if="trial.set_aside">
        <v-btn @click="aside.mutate('')">Count it again</v-btn>
      </template>
      <template v-else>
        <v-text-field v-model="reason" label="Set aside because" maxlength="200" />
        <v-btn type="submit" :disabled="!reason.trim()">Set aside</v-btn>
      </template>
    </form>
  </section>
</template>

<style scoped>
.trial {
  margin-top: 16px;
}

.trial p {
  margin: 0 0 6px;
}

h3 {
  margin: 12px 0 4px;
  font-size: var(--size-m);
}

.out {
  border-left: 3px solid var(--rust);
  padding-left: 10px;
}

.entry {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  margin-top: 8px;
}

.link {
  text-decoration: underline;
  color: var(--measured) !important;
  margin-left: 8px;
}

@media (max-width: 699px) {
  .trial table {
    display: block;
    overflow-x: auto;
  }
}
</style>
