<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { ClaimVerdict, FigureOut } from '@/api/schema'
import { CLAIM_SIGNS } from '@/parts/claims'
import { expandedText, meanText, ratioText } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'

/** Every claim of the shelf by model, the pieces measured against it, the gravest first. */
const PAGE = 60
const search = ref('')
const verdict = ref<ClaimVerdict | null>(null)
const limit = ref(PAGE)
watch([search, verdict], () => (limit.value = PAGE))
const found = useQuery({
  queryKey: computed(() => ['rack', 'claims', search.value, verdict.value, limit.value]),
  placeholderData: keepPreviousData,
  queryFn: () =>
    data(
      api.GET('/api/claims', {
        params: {
          query: {
            search: search.value,
            limit: limit.value,
            ...(verdict.value ? { verdict: verdict.value } : {}),
          },
        },
      }),
    ),
})
const verdicts = computed(() => Object.keys(found.data.value?.counts ?? {}) as ClaimVerdict[])
const all = computed(() =>
  Object.values(found.data.value?.counts ?? {}).reduce((sum, n) => sum + n, 0),
)
const hue = (of: ClaimVerdict) =>
  of === 'contradicted' ? 'rust' : of === 'confirmed' ? 'grade-M' : 'soft'
const measured = (figure: FigureOut, quantity: string) =>
  quantity === 'asymmetry'
    ? ratioText(figure.mean)
    : `${meanText(figure)} ± ${expandedText(figure)}`
</script>

<template>
  <StateNote
    v-if="!found.data.value"
    :error="found.error.value"
    waiting="Reading the boxes…"
    :retry="() => found.refetch()"
  />
  <div v-else class="claims">
    <nav class="tabs" aria-label="Verdicts">
      <RouterLink to="/rack">‹ Rack</RouterLink>
      <button
        v-for="v in [null, ...verdicts]"
        :key="v ?? 'all'"
        type="button"
        class="plain"
        :class="{ on: v === verdict }"
        :aria-pressed="v === verdict"
        @click="verdict = v"
      >
        {{ v ? `${CLAIM_SIGNS[v]} ${labelOf('ClaimVerdict', v)}` : 'all claims' }}
        <span class="soft">{{ v ? found.data.value.counts[v] : all }}</span>
      </button>
      <v-text-field v-model="search" label="Search" maxlength="200" class="search" />
    </nav>
    <p class="soft small rule">
      Decided by ISO 14253-1: confirmed or contradicted only where the measured figure is clear of
      the printed band's limits by its expanded uncertainty. It says what these pieces measured on
      this bench, not why.
    </p>
    <table v-if="found.data.value.rows.length">
      <thead>
        <tr>
          <th>model</th>
          <th>printed</th>
          <th>piece</th>
          <th class="number">measured, U</th>
          <th>verdict</th>
        </tr>
      </thead>
      <tbody v-for="row in found.data.value.rows" :key="`${row.model} ${row.quantity}`">
        <tr v-for="(piece, i) in row.pieces" :key="piece.piece_id">
          <td v-if="i === 0" :rowspan="row.pieces.length">
            {{ row.model }}
            <span class="soft small record">{{ row.record }}</span>
          </td>
          <td v-if="i === 0" :rowspan="row.pieces.length">
            {{ row.label }} <b>{{ row.printed }}</b>
            <span class="soft small record">{{ row.tolerance }}</span>
          </td>
          <td>
            <RouterLink :to="`/sheet/${piece.piece_id}`">{{ piece.tag }}</RouterLink>
          </td>
          <td class="number">
            <template v-if="piece.measured">
              {{ measured(piece.measured, row.quantity) }}
              <span class="unit">{{ row.unit === 'dps' ? '°/side' : row.unit }}</span>
            </template>
            <span v-else class="soft">not measured</span>
          </td>
          <td>
            <span :class="hue(piece.verdict)"
              >{{ CLAIM_SIGNS[piece.verdict] }} {{ labelOf('ClaimVerdict', piece.verdict) }}</span
            >
            <span class="soft small record">{{ piece.statement }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else>No matching claims. Claims are entered with a model, as printed on its box.</p>
    <p v-if="found.data.value.shown > found.data.value.rows.length">
      <v-btn @click="limit += PAGE"> Show more of {{ found.data.value.shown }} </v-btn>
    </p>
  </div>
</template>

<style scoped>
.search {
  max-width: 220px;
  margin-left: auto;
}

.rule {
  max-width: 90ch;
}

.record {
  display: block;
}

@media (max-width: 699px) {
  table {
    display: block;
    overflow-x: auto;
  }
}
</style>
