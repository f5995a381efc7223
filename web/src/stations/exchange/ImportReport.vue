<script setup lang="ts">
import { addressOf } from '@/api/base'
import { labelOf } from '@/api/catalogue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { ImportOut, RowVerdict } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'
import { VERDICTS } from './importing'

/** Row by row what became of a file, or would. */
const props = defineProps<{ file: ImportOut }>()

const PAGE = 100
const all = Object.keys(VERDICTS) as RowVerdict[]
const gravest = computed(
  () =>
    (['refused', 'partly', 'doubtful', 'corrected', 'accepted'] as const).find(
      (v) => props.file.counts[v],
    ) ?? null,
)
const verdict = ref<RowVerdict | null>(gravest.value)
const offset = ref(0)
watch(verdict, () => (offset.value = 0))
watch(
  () => props.file.state,
  () => (verdict.value = gravest.value),
)

const rows = useQuery({
  queryKey: computed(() => [
    'import-rows', props.file.id, props.file.state, props.file.for_good, verdict.value, offset.value,
  ]), // prettier-ignore
  placeholderData: keepPreviousData,
  queryFn: () =>
    data(
      api.GET('/api/imports/{key}/rows', {
        params: {
          path: { key: props.file.id },
          query: { verdict: verdict.value, offset: offset.value, limit: PAGE },
        },
      }),
    ),
})
const several = computed(() => props.file.tables.length > 1)
const total = computed(() => all.reduce((sum, v) => sum + (props.file.counts[v] ?? 0), 0))
</script>

<template>
  <section aria-label="Report">
    <div class="counts" role="group" aria-label="Rows by verdict">
      <button
        v-for="v in all"
        :key="v"
        type="button"
        class="plain count"
        :class="{ on: verdict === v, none: !file.counts[v] }"
        :aria-pressed="verdict === v"
        @click="verdict = verdict === v ? null : v"
      >
        <b :class="VERDICTS[v].tone">{{ file.counts[v] ?? 0 }}</b>
        <span>{{ VERDICTS[v].mark }} {{ labelOf('RowVerdict', v) }}</span>
        <span class="soft small">{{ VERDICTS[v].about }}</span>
      </button>
    </div>
    <p class="small soft line">
      {{ verdict ? `Rows that are ${labelOf('RowVerdict', verdict)}` : `All ${total} rows` }}, in
      the order of the file.
      <a :href="addressOf(`/api/imports/${file.id}/report.csv`)" download>the whole report .csv</a>
    </p>
    <StateNote
      v-if="!rows.data.value"
      :error="rows.error.value"
      waiting="Fetching the report…"
      :retry="() => rows.refetch()"
    />
    <p v-else-if="!rows.data.value.total" class="soft">No such rows.</p>
    <div v-else class="scroll">
      <table>
        <thead>
          <tr>
            <th v-if="several">table</th>
            <th class="number">line</th>
            <th>row</th>
            <th>verdict</th>
            <th>why</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows.data.value.rows" :key="`${row.table} ${row.line}`">
            <td v-if="several" class="soft">{{ row.table }}</td>
            <td class="number">{{ row.line }}</td>
            <td class="row">{{ row.shown }}</td>
            <td :class="VERDICTS[row.verdict].tone" class="verdict">
              {{ VERDICTS[row.verdict].mark }} {{ labelOf('RowVerdict', row.verdict) }}
            </td>
            <td>{{ row.said }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="rows.data.value && rows.data.value.total > PAGE" class="small line">
      <button type="button" class="plain link" :disabled="!offset" @click="offset -= PAGE">
        earlier
      </button>
      rows {{ offset + 1 }} to {{ Math.min(offset + PAGE, rows.data.value.total) }} of
      {{ rows.data.value.total }}
      <button
        type="button"
        class="plain link"
        :disabled="offset + PAGE >= rows.data.value.total"
        @click="offset += PAGE"
      >
        later
      </button>
    </p>
  </section>
</template>

<style scoped>
.counts {
  display: flex;
  flex-wrap: wrap;
  gap: 0 28px;
  border-bottom: 1px solid var(--hairline);
}

.count {
  display: grid;
  padding: 4px 0 6px;
}

.count b {
  font-size: var(--size-l);
  line-height: 1.1;
}

.count.none b {
  color: var(--soft-ink);
  font-weight: 400;
}

.count.on {
  box-shadow: inset 0 -3px 0 var(--measured);
}

.line {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  margin: 8px 0;
}

td {
  padding-right: 16px;
}

.verdict {
  white-space: nowrap;
}

@media (min-width: 1000px) {
  .row {
    white-space: nowrap;
  }
}
</style>
