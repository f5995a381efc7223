<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { api, data, Problem } from '@/api/client'
import StateNote from '@/parts/StateNote.vue'
import OfficeTabs from '@/parts/OfficeTabs.vue'
import ImportReport from './ImportReport.vue'
import MappingTable from './MappingTable.vue'
import {
  addedText,
  asGuessed,
  asked,
  comesIn,
  currenciesOf,
  hand,
  isSaid,
  type Reading,
} from './importing'

/** A table from outside: read, tried, imported. The file is in the address, so a reload keeps it. */
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const { catalogue } = useCatalogue()

const key = computed(() => (typeof route.query.file === 'string' ? route.query.file : ''))
const overview = useQuery({
  queryKey: ['imports'],
  queryFn: () => data(api.GET('/api/imports')),
})
const file = useQuery({
  queryKey: computed(() => ['import', key.value]),
  enabled: computed(() => key.value !== ''),
  retry: false,
  queryFn: () => data(api.GET('/api/imports/{key}', { params: { path: { key: key.value } } })),
  refetchInterval: (query) => (query.state.data?.state === 'running' ? 400 : false),
})
const gone = computed(() => file.error.value instanceof Problem && file.error.value.status === 404)

const today = new Date().toISOString().slice(0, 10)
const reading = ref<Reading | null>(null)
watch(key, () => (reading.value = null))
const kept = (id: string) => `maple-rook.import.${id}`
watch(
  () => file.data.value,
  (now) => {
    if (!now || reading.value) return
    const before = sessionStorage.getItem(kept(now.id))
    reading.value = before ? (JSON.parse(before) as Reading) : asGuessed(now, today)
  },
  { immediate: true },
)
watch(
  reading,
  (now) => {
    if (now && key.value) sessionStorage.setItem(kept(key.value), JSON.stringify(now))
  },
  { deep: true },
)

const give = useMutation({
  mutationFn: hand,
  onSuccess: (found) => {
    queries.setQueryData(['import', found.id], found)
    void router.replace({ query: { ...route.query, file: found.id } })
  },
})
const over = ref(false)
function chosen(files: FileList | null | undefined): void {
  over.value = false
  const [first] = files ?? []
  if (first) give.mutate(first)
}

const run = useMutation({
  mutationFn: (for_good: boolean) => {
    if (!reading.value) throw new Error('Choose a file to import.')
    return data(
      api.POST('/api/imports/{key}/run', {
        params: { path: { key: key.value } },
        body: asked(reading.value, for_good),
      }),
    )
  },
  onSuccess: (now) => queries.setQueryData(['import', now.id], now),
})
/** A source chosen from those known reads the columns as that one's were. */
async function readAs(source: string): Promise<void> {
  if (!reading.value || !file.data.value?.sources.includes(source)) return
  const found = await data(
    api.GET('/api/imports/{key}', { params: { path: { key: key.value }, query: { source } } }),
  )
  reading.value = { ...reading.value, source, tables: asGuessed(found, today).tables }
}
const stop = useMutation({
  mutationFn: () =>
    data(api.DELETE('/api/imports/{key}', { params: { path: { key: key.value } } })),
  onSettled: () => file.refetch(),
})
function another(): void {
  void router.replace({ query: { ...route.query, file: undefined } })
}

const state = computed(() => file.data.value?.state)
watch(state, (now) => {
  if (now === 'brought in') void queries.invalidateQueries()
})
/** What was tried is what would be imported, until something is changed. */
const tried = ref('')
const asNow = computed(() => (reading.value ? JSON.stringify(asked(reading.value, false)) : ''))
watch(state, (now) => {
  if (now === 'tried') tried.value = asNow.value
})
const current = computed(() => state.value === 'tried' && tried.value === asNow.value)
const currencies = computed(() => (file.data.value ? currenciesOf(file.data.value) : []))
const toCome = computed(() => comesIn(file.data.value?.counts ?? {}))
const said = computed(() => {
  const meanings = overview.data.value?.meanings
  return !!reading.value && !!meanings && isSaid(reading.value, meanings)
})
</script>

<template>
  <OfficeTabs />
  <div class="bring">
    <template v-if="!key || gone">
      <p v-if="gone" class="rust" role="alert">
        ⚠ That file is no longer available: the server restarted, or the file was discarded. Nothing
        was imported; choose it again.
      </p>
      <div
        class="drop"
        :class="{ over }"
        @dragover.prevent="over = true"
        @dragleave="over = false"
        @drop.prevent="chosen($event.dataTransfer?.files)"
      >
        <p class="lead">
          Drop a table here, or
          <label class="link"
            >choose a file<input
              type="file"
              class="visually-hidden"
              accept=".csv,.tsv,.txt,.xlsx,.json"
              @change="chosen(($event.target as HTMLInputElement).files)" /></label
          >.
        </p>
        <p class="soft">
          CSV, XLSX or JSON with models, pieces, readings, claims, traced edges or edge trials.
          Headings are recognised in several styles and languages, numbers in both unit systems,
          with fractions and decimal commas. Nothing is written until you have seen, row by row,
          what would be added.
        </p>
        <p v-if="give.isPending.value" role="status">Reading the file…</p>
        <p v-if="give.error.value" class="rust" role="alert">⚠ {{ give.error.value.message }}</p>
      </div>
      <template v-if="overview.data.value?.past.length">
        <h2>Imported before</h2>
        <table>
          <thead>
            <tr>
              <th>file</th>
              <th>from</th>
              <th>when</th>
              <th>added</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="past in overview.data.value.past" :key="past.recorded_at">
              <td>{{ past.file }}</td>
              <td>{{ past.source }}</td>
              <td class="soft">
                {{ past.recorded_at.slice(0, 16).replace('T', ' ') }}, {{ past.person }}
              </td>
              <td>{{ addedText(past.added) }}</td>
            </tr>
          </tbody>
        </table>
      </template>
      <p v-else-if="overview.data.value" class="soft">Nothing has been imported yet.</p>
    </template>

    <StateNote
      v-else-if="!file.data.value || !reading || !overview.data.value"
      :error="file.error.value ?? overview.error.value"
      waiting="Fetching the file…"
      :retry="() => file.refetch()"
    />
    <template v-else>
      <p class="file">
        <b>{{ file.data.value.file }}</b>
        <span class="soft">{{ Math.max(1, Math.round(file.data.value.size / 1000)) }} kB</span>
        <button type="button" class="plain link" :disabled="state === 'running'" @click="another">
          another file
        </button>
      </p>

      <template v-if="state !== 'brought in'">
        <div class="whole">
          <label>
            <span class="soft">From</span>
            <input
              v-model="reading.source"
              list="sources"
              maxlength="80"
              aria-label="Source of the file"
              @change="readAs(reading.source)"
            />
            <datalist id="sources">
              <option v-for="source in file.data.value.sources" :key="source" :value="source" />
            </datalist>
          </label>
          <label>
            <span class="soft">Date measured, for rows without one</span>
            <input v-model="reading.measured_on" type="date" :max="today" />
          </label>
          <label>
            <span class="soft">Unusual figures</span>
            <select v-model="reading.doubtful">
              <option value="leave">stay out</option>
              <option value="bring">import them, marked unusual</option>
            </select>
          </label>
          <label>
            <span class="soft">Where a model or piece differs</span>
            <select v-model="reading.changed">
              <option value="leave">keep the record’s value</option>
              <option value="take">take the file’s value</option>
            </select>
          </label>
        </div>
        <fieldset v-if="currencies.length" class="rates">
          <legend>Some prices are not in {{ catalogue?.currency || 'the shop’s currency' }}</legend>
          <label v-for="currency in currencies" :key="currency">
            1 {{ currency }} is
            <input
              v-model="reading.rates[currency]"
              inputmode="decimal"
              size="8"
              :aria-label="`Rate of ${currency}`"
            />
            {{ catalogue?.currency }}
          </label>
          <p class="soft small">Without a rate these prices stay out; the report says which.</p>
        </fieldset>
        <MappingTable
          v-for="(table, i) in file.data.value.tables"
          :key="table.name"
          v-model="reading.tables[i]!"
          :table="table"
          :meanings="overview.data.value.meanings"
        />
        <div class="buttons">
          <v-btn
            :color="current ? undefined : 'primary'"
            :variant="current ? 'text' : 'flat'"
            :disabled="state === 'running' || !reading.source.trim() || !said"
            @click="run.mutate(false)"
          >
            Preview the import
          </v-btn>
          <v-btn
            v-if="current"
            color="primary"
            variant="flat"
            :disabled="toCome === 0"
            @click="run.mutate(true)"
          >
            Import
          </v-btn>
          <span v-if="!said" class="soft">First say where the figures come from.</span>
          <span v-else-if="state === 'running'" role="status">
            {{ file.data.value.for_good ? 'Importing' : 'Trying' }}:
            {{ file.data.value.done.toLocaleString('en') }} rows done
            <button type="button" class="plain link" @click="stop.mutate()">stop</button>
          </span>
          <span v-else-if="current" class="soft">
            Would add {{ addedText(file.data.value.added) }}. Nothing is written yet.
          </span>
          <span v-else-if="state === 'tried'" class="soft">
            Something changed since the trial run.
          </span>
        </div>
      </template>
      <p v-else class="done">
        <b class="grade-M">✓ Imported:</b> {{ addedText(file.data.value.added) }}.
        <RouterLink to="/rack">See the Rack</RouterLink>
      </p>
      <p v-if="run.error.value" class="rust" role="alert">⚠ {{ run.error.value.message }}</p>
      <p v-if="file.data.value.problem" class="rust" role="alert">
        ⚠ {{ file.data.value.problem }}
      </p>
      <ImportReport v-if="state === 'tried' || state === 'brought in'" :file="file.data.value" />
    </template>
  </div>
</template>

<style scoped>
.drop {
  border: 1px dashed var(--soft-ink);
  border-radius: 3px;
  padding: 22px 26px;
  margin-bottom: 22px;
  background: var(--panel);
}

.drop.over {
  border-color: var(--measured);
}

.drop p {
  margin: 0 0 6px;
  max-width: 84ch;
}

.lead {
  font-size: var(--size-l);
}

.lead label {
  cursor: pointer;
}

.lead label:focus-within {
  outline: 2px solid var(--measured);
  outline-offset: 2px;
}

.file {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 0 0 8px;
}

.whole {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  margin-bottom: 14px;
}

.whole label {
  display: grid;
  gap: 2px;
}

.rates {
  border: 0;
  border-left: 3px solid var(--derived);
  margin: 0 0 14px;
  padding: 2px 0 2px 12px;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
}

.rates legend {
  font-weight: 600;
  padding: 0;
}

.rates p {
  flex-basis: 100%;
  margin: 2px 0 0;
}

.done {
  font-size: var(--size-l);
  margin: 6px 0 14px;
}
</style>
