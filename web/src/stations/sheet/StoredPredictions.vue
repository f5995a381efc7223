<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { labelOf, useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import type { StoredPredictionOut, KnifeSheetOut } from '@/api/schema'
import FoldedPart from '@/parts/FoldedPart.vue'
import { kitchen } from '@/parts/kitchen'
import { rangeText } from '@/parts/numbers'
import { dayText } from '@/parts/moments'

/** The knife's edge trials, and its predictions as they were kept, each made again on a click. */
const props = defineProps<{ sheet: KnifeSheetOut }>()

const queries = useQueryClient()
const id = computed(() => props.sheet.piece.id)
const kept = useQuery({
  queryKey: computed(() => ['stored-predictions', id.value]),
  queryFn: () =>
    data(
      api.GET('/api/pieces/{piece_id}/stored-predictions', {
        params: { path: { piece_id: id.value } },
      }),
    ),
})
const note = ref('')
const keep = useMutation({
  mutationFn: () => {
    const { use, board, technique, honed, basis } = kitchen
    return data(
      api.POST('/api/pieces/{piece_id}/stored-predictions', {
        params: { path: { piece_id: id.value } },
        body: { kitchen: { use, board, technique, honed }, basis, note: note.value },
      }),
    )
  },
  onSuccess: () => {
    note.value = ''
    void queries.invalidateQueries({ queryKey: ['stored-predictions', id.value] })
  },
})
const { predicted } = useCatalogue()
const said = ref<Record<number, string>>({})
const again = useMutation({
  mutationFn: (row: StoredPredictionOut) =>
    data(
      api.GET('/api/stored-predictions/{prediction_id}/again', {
        params: { path: { prediction_id: row.id } },
      }),
    ),
  onSuccess: (found) => {
    const moved = found.models_changed.length
      ? ` The models of ${found.models_changed.join(', ')} have changed since.`
      : ''
    said.value[found.prediction.id] = found.same
      ? `Reproduced exactly.${moved}`
      : `⚠ Not reproduced: ${found.differing.join(', ')}.${moved}`
  },
})
const shown = (row: StoredPredictionOut) =>
  predicted.value
    .flatMap(({ key, predicted: { calibrated } }) => {
      if (!calibrated) return []
      const found = row.numbers.find((n) => n.key === key)
      if (!found) return []
      const [, low = 0, high = 0] = found.numbers
      return [`${rangeText({ low, high })} ${key === 'card_test' ? 'mm of card' : found.unit}`]
    })
    .join(' · ')
</script>

<template>
  <div class="pair">
    <section aria-label="Edge trials">
      <h2>Edge trials</h2>
      <table v-if="sheet.trials.length">
        <tbody>
          <tr v-for="trial in sheet.trials" :key="trial.id">
            <td>
              <RouterLink :to="`/trials?trial=${trial.id}`">{{
                labelOf('TrialKind', trial.kind)
              }}</RouterLink>
            </td>
            <td>{{ trial.summary }}</td>
            <td class="rust small">
              {{ trial.left_out.length ? `⚠ ${trial.left_out.join('; ')}` : '' }}
            </td>
            <td class="number soft small">{{ dayText(trial.started_at) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else class="soft">None yet.</p>
      <p>
        <RouterLink v-needs="'measure'" :to="`/trials?new=1&piece=${sheet.piece.id}`"
          >Start a trial of this knife</RouterLink
        >
      </p>
    </section>
    <FoldedPart
      title="Stored predictions"
      :about="kept.data.value?.length ? `${kept.data.value.length} so far` : 'none yet'"
    >
      <form v-needs="'advise'" class="keep" @submit.prevent="keep.mutate()">
        <v-text-field v-model="note" label="Store what is predicted now, for" maxlength="80" />
        <v-btn type="submit" :loading="keep.isPending.value">Store these predictions</v-btn>
      </form>
      <p v-if="keep.error.value" class="rust" role="alert">⚠ {{ keep.error.value.message }}</p>
      <table v-if="kept.data.value?.length">
        <tbody>
          <tr v-for="row in kept.data.value" :key="row.id">
            <td class="small">
              {{ dayText(row.recorded_at) }}, {{ row.person }}
              <span class="soft">{{ row.note }}</span>
            </td>
            <td class="small">
              {{ shown(row) }}
              <span class="soft">
                {{ row.basis }}, coefficients
                {{ row.coefficients_version === null ? 'published' : row.coefficients_version }}
              </span>
              <span v-if="said[row.id]" role="status" class="said">{{ said[row.id] }}</span>
            </td>
            <td class="number small">
              <button type="button" class="plain link" @click="again.mutate(row)">
                recalculate
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </FoldedPart>
  </div>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px 32px;
  margin-top: 18px;
}

@media (max-width: 699px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }
}

p {
  margin: 4px 0;
}

.keep {
  display: flex;
  gap: 10px;
  align-items: center;
  max-width: 480px;
}

.said {
  display: block;
}
</style>
