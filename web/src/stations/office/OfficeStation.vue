<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import { may } from '@/api/session'
import type { CoefficientOut, CoefficientsOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'
import OfficeTabs from '@/parts/OfficeTabs.vue'

/** The coefficients of the edge-life models, with every version there was. */
const queries = useQueryClient()
const found = useQuery({
  queryKey: ['coefficients'],
  queryFn: () => data(api.GET('/api/coefficients')),
})

const typed = reactive<Record<string, string>>({})
const note = ref('')
watch(
  () => found.data.value,
  (now) => {
    for (const c of now?.coefficients ?? []) typed[c.key] = String(c.value)
  },
  { immediate: true },
)
const groups = computed(() => {
  const all = found.data.value?.coefficients ?? []
  return [...new Set(all.map((c) => c.card_name))].map((name) => ({
    name,
    rows: all.filter((c) => c.card_name === name),
  }))
})
const number = (key: string) => Number((typed[key] ?? '').trim().replace(',', '.') || NaN)
const wrong = (c: CoefficientOut) => {
  const value = number(c.key)
  return !Number.isFinite(value) || value < c.low || value > c.high
}
const coefficients = computed(() => found.data.value?.coefficients ?? [])
const changed = computed(() => coefficients.value.filter((c) => number(c.key) !== c.value))
const body = computed(() => ({
  changes: Object.fromEntries(
    coefficients.value
      .filter((c) => number(c.key) !== c.published)
      .map((c) => [c.key, number(c.key)]),
  ),
  note: note.value,
}))

function shown(now: CoefficientsOut): void {
  queries.setQueryData(['coefficients'], now)
  note.value = ''
  for (const key of ['trials', 'sheet', 'board', 'rack', 'what-if']) {
    void queries.invalidateQueries({ queryKey: [key] })
  }
}
const keep = useMutation({
  mutationFn: () => {
    const header = { 'If-Match': found.data.value?.etag ?? '' }
    return data(api.POST('/api/coefficients', { params: { header }, body: body.value }))
  },
  onSuccess: shown,
})
function fill(values: Record<string, number>): void {
  for (const c of coefficients.value) typed[c.key] = String(values[c.key] ?? c.published)
}
const label = (key: string) => coefficients.value.find((c) => c.key === key)?.label ?? key
</script>

<template>
  <OfficeTabs />
  <StateNote
    v-if="!found.data.value"
    :error="found.error.value"
    waiting="Fetching the coefficients…"
    :retry="() => found.refetch()"
  />
  <div v-else class="office">
    <h2>Coefficients of the edge-life models</h2>
    <p class="soft intro">
      {{
        found.data.value.version === null
          ? 'As published.'
          : `Version ${found.data.value.version} is in force.`
      }}
      Trials calibrate what these say; change one only where you know better than its source. Every
      version stays, and every stored prediction says which it was made with.
    </p>
    <form @submit.prevent="keep.mutate()">
      <fieldset class="bare" :disabled="!may('set')">
        <div class="groups">
          <section v-for="group in groups" :key="group.name" :aria-label="group.name">
            <h3>{{ group.name }}</h3>
            <label v-for="c in group.rows" :key="c.key" :class="{ other: c.value !== c.published }">
              <span>{{ c.label }}</span>
              <input
                v-model="typed[c.key]"
                inputmode="decimal"
                :aria-invalid="wrong(c)"
                :class="{ changed: number(c.key) !== c.value }"
              />
              <span class="unit small">{{ c.unit }}</span>
              <span class="small" :class="wrong(c) ? 'rust' : 'soft'">
                {{
                  wrong(c)
                    ? `⚠ ${c.low} to ${c.high}`
                    : `published ${String(c.published).replace('-', '−')}`
                }}
              </span>
            </label>
          </section>
        </div>
        <p v-if="keep.error.value" class="rust" role="alert">⚠ {{ keep.error.value.message }}</p>
        <div v-needs="'set'" class="buttons">
          <v-text-field v-model="note" label="Why" maxlength="200" />
          <v-btn
            type="submit"
            color="primary"
            variant="flat"
            :disabled="!changed.length || coefficients.some(wrong) || !note.trim()"
            :loading="keep.isPending.value"
          >
            {{ changed.length ? `Set ${changed.length} changed` : 'Nothing changed' }}
          </v-btn>
          <v-btn @click="fill({})">Fill in published values</v-btn>
        </div>
      </fieldset>
    </form>

    <h2>Versions</h2>
    <table v-if="found.data.value.history.length">
      <thead>
        <tr>
          <th>version</th>
          <th>set</th>
          <th>why</th>
          <th>differs from published</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="set in found.data.value.history" :key="set.version">
          <td>{{ set.version }}</td>
          <td class="soft">
            {{ set.recorded_at.slice(0, 16).replace('T', ' ') }}, {{ set.person }}
          </td>
          <td>{{ set.note }}</td>
          <td>
            <span v-if="!Object.keys(set.changes).length" class="soft">nothing</span>
            <span v-for="(value, key) in set.changes" :key="key" class="change">
              {{ label(String(key)) }} <b>{{ value }}</b>
            </span>
          </td>
          <td>
            <button v-needs="'set'" type="button" class="plain link" @click="fill(set.changes)">
              fill in
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="soft">None yet: the published values are in force.</p>
  </div>
</template>

<style scoped>
.groups {
  columns: 2 440px;
  column-gap: 40px;
}

section {
  break-inside: avoid;
  margin-bottom: 14px;
}

h3 {
  font-size: var(--size-m);
  margin: 0 0 4px;
}

label {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 84px 62px 116px;
  gap: 8px;
  align-items: baseline;
  padding: 2px 0;
  border-bottom: 1px solid var(--hairline);
}

label.other > span:first-child {
  font-weight: 600;
}

input.changed {
  border-color: var(--measured);
}

.buttons .v-input {
  max-width: 420px;
}

.change {
  margin-right: 12px;
}

@media (max-width: 699px) {
  label {
    grid-template-columns: minmax(0, 1fr) 84px 62px;
  }

  label > :last-child {
    grid-column: 1 / -1;
  }
}
</style>
