<script setup lang="ts">
import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query'
import { computed, reactive } from 'vue'
import { addressOf } from '@/api/base'
import { api, data } from '@/api/client'
import type { AuditOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'
import OfficeTabs from '@/parts/OfficeTabs.vue'
import { momentText } from '@/parts/moments'

/** Who changed what, from what to what; nothing here can be changed. */
const asked = reactive({ search: '', about: '', person: '', since: '', until: '' })
const query = computed(() => Object.fromEntries(Object.entries(asked).filter(([, value]) => value)))
const found = useInfiniteQuery({
  queryKey: ['audit', query],
  queryFn: ({ pageParam }) =>
    data(
      api.GET('/api/audit', {
        params: { query: { ...query.value, before: pageParam ?? undefined } },
      }),
    ),
  initialPageParam: null as number | null,
  getNextPageParam: (last) => last.next,
  placeholderData: keepPreviousData,
})
const rows = computed(() => found.data.value?.pages.flatMap((page) => page.items) ?? [])
const first = computed(() => found.data.value?.pages[0])
const asTable = computed(() =>
  addressOf(`/api/audit.csv?${new URLSearchParams(query.value).toString()}`),
)

const WORDS: Record<string, string> = {
  knife_models: 'model',
  pieces: 'piece',
  sheets: 'sheet',
  claims: 'claim',
  people: 'person',
  instruments: 'instrument',
  reading_voids: 'struck-out reading',
  coefficient_sets: 'coefficients',
  repeatabilities: 'repeatability',
  workshop_sets: 'workshop',
  publications: 'public page',
  imports: 'file imported',
  customers: "customer's profile",
  makers: 'maker',
  steels: 'grade',
  foods: 'food',
  passwords: 'password',
  keys: 'key',
  'sign-ins': 'sign-in',
  invitations: 'invitation',
  'two-step sign-in': 'two-step sign-in',
  'recovery codes': 'recovery codes',
  exports: 'export',
  restores: 'restored shop',
  readings: 'readings',
  observations: 'what was seen',
  photos: 'photos',
  measuring_photos: 'measuring photos',
  photo_measurements: 'figures of a photo',
  edge_traces: 'traced edge',
  trials: 'trial',
  trial_points: 'points of a trial',
  trial_protocols: 'protocol of a trial',
  trial_marks: 'trial set aside',
  cut_sessions: 'cutting session',
  cuts: 'cuts',
  cut_marks: 'cut set aside',
  stored_predictions: 'stored prediction',
  comparisons: 'comparison',
  comparison_marks: 'comparison archived',
  upkeep_plans: 'plan of upkeep',
  upkeep_plan_marks: 'plan of upkeep ended',
  upkeep_log: 'upkeep done',
  upkeep_voids: 'struck-out upkeep',
  work_orders: 'order for work',
  work_events: 'work done',
  repairs: 'repair',
  import_files: 'file waiting for import',
  tasks: 'task',
  wishes: 'wish',
}
const word = (about: string) => WORDS[about] ?? about
const kinds = computed(() =>
  (first.value?.about ?? []).map((about) => ({ value: about, title: word(about) })),
)

interface Difference {
  column: string
  from?: string
  to?: string
}
const HIDDEN = new Set(['id', 'person_id', 'recorded_at', 'created_at', 'started_at'])
function shown(value: unknown): string {
  if (value === null || value === '') return 'nothing'
  return typeof value === 'object' ? JSON.stringify(value) : String(value)
}
function differences(row: AuditOut): Difference[] {
  const columns = new Set([...Object.keys(row.before ?? {}), ...Object.keys(row.after ?? {})])
  return [...columns]
    .filter((column) => !HIDDEN.has(column))
    .map((column) => ({
      column: column.replaceAll('_', ' '),
      from: row.before ? shown(row.before[column]) : undefined,
      to: row.after ? shown(row.after[column]) : undefined,
    }))
    .filter((d) => row.act === 'changed' || (d.from ?? d.to) !== 'nothing')
}
</script>

<template>
  <OfficeTabs />
  <form class="asked" role="search" @submit.prevent>
    <v-text-field v-model="asked.search" label="Search: tag, name, value" clearable />
    <v-select
      v-model="asked.about"
      label="Of what"
      :items="[{ value: '', title: 'everything' }, ...kinds]"
    />
    <v-select
      v-model="asked.person"
      label="By whom"
      :items="[
        { value: '', title: 'everybody' },
        ...(first?.people ?? []).map((name) => ({ value: name, title: name })),
      ]"
    />
    <v-text-field v-model="asked.since" label="From" type="date" />
    <v-text-field v-model="asked.until" label="To" type="date" />
    <a :href="asTable" download>table .csv</a>
  </form>
  <StateNote
    v-if="!first"
    :error="found.error.value"
    waiting="Looking it up…"
    :retry="() => found.refetch()"
  />
  <p v-else-if="!rows.length" class="soft">No changes match.</p>
  <template v-else>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th>when</th>
            <th>who</th>
            <th>what</th>
            <th>from and to</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id">
            <td class="soft when">{{ momentText(row.at) }}</td>
            <td>{{ row.person }}</td>
            <td>
              <b>{{ row.named || row.of }}</b>
              {{ ' ' }}<span class="soft">{{ word(row.about) }} {{ row.act }}</span>
            </td>
            <td class="differs">
              <span v-for="d in differences(row)" :key="d.column" class="one">
                <span class="soft">{{ d.column }}</span>{{ ' ' }}
                <template v-if="d.from !== undefined">
                  <del>{{ d.from }}</del>
                </template>
                <span v-if="d.from !== undefined && d.to !== undefined" class="soft">→</span>
                <ins v-if="d.to !== undefined">{{ d.to }}</ins>
              </span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="found.hasNextPage.value">
      <v-btn :loading="found.isFetchingNextPage.value" @click="found.fetchNextPage()">
        Show earlier changes
      </v-btn>
    </p>
  </template>
  <p class="soft small foot">
    Readings, what was seen, trials and work are never changed. They are listed here once an hour
    for each sheet and person; the sheet says who took what, when and with what.
  </p>
</template>

<style scoped>
.asked {
  display: grid;
  grid-template-columns: 2fr 1fr 1fr 150px 150px auto;
  gap: 10px;
  align-items: center;
  margin-bottom: 12px;
}

.when {
  white-space: nowrap;
}

.differs {
  overflow-wrap: anywhere;
}

.one {
  display: inline-block;
  margin-right: 14px;
}

del {
  color: var(--rust);
  margin: 0 4px;
}

ins {
  text-decoration: none;
  font-weight: 600;
  margin-left: 4px;
}

.foot {
  max-width: 80ch;
  margin-top: 16px;
}

@media (max-width: 899px) {
  .asked {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
