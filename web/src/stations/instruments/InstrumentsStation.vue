<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { labelOf, useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import { may } from '@/api/session'
import type { InstrumentIn, InstrumentOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'

/** What readings are taken with: resolution, permissible error, calibration, the line. */
const client = useQueryClient()
const key = ['instruments']
const list = useQuery({
  queryKey: key,
  queryFn: () => data(api.GET('/api/instruments')),
  refetchInterval: 4000,
})

const { catalogue } = useCatalogue()
const kinds = computed(() =>
  (catalogue.value?.instrument_kinds ?? []).map((k) => ({ value: k.key, title: k.label })),
)
const kindLabel = (key: string) => kinds.value.find((k) => k.value === key)?.title ?? key

const editing = ref<number | 'new' | null>(null)
/** Which version of it is being edited. */
const seen = ref('')
const form = reactive({
  name: '',
  kind: 'caliper' as InstrumentIn['kind'],
  resolution: '0.01',
  mpe: '0.03',
  serial: '',
  calibration_due: '',
  address: '',
  certified: '',
  retired: false,
})

function edit(row: InstrumentOut | null): void {
  editing.value = row ? row.id : 'new'
  seen.value = row?.etag ?? ''
  Object.assign(form, {
    name: row?.name ?? '',
    kind: row?.kind ?? 'caliper',
    resolution: String(row?.resolution ?? 0.01),
    mpe: String(row?.mpe ?? 0.03),
    serial: row?.serial ?? '',
    calibration_due: row?.calibration_due ?? '',
    address: row?.address ?? '',
    certified: row?.certified === null || !row ? '' : String(row.certified),
    retired: row?.retired ?? false,
  })
}

const number = (text: string) => Number(text.replace(',', '.'))

const keep = useMutation({
  mutationFn: () => {
    const body: InstrumentIn = {
      ...form,
      resolution: number(form.resolution),
      mpe: number(form.mpe),
      calibration_due: form.calibration_due || null,
      certified: form.certified ? number(form.certified) : null,
    }
    if (editing.value === 'new') return data(api.POST('/api/instruments', { body }))
    const params = {
      path: { instrument_id: editing.value ?? 0 },
      header: { 'If-Match': seen.value },
    }
    return data(api.PUT('/api/instruments/{instrument_id}', { params, body }))
  },
  onSuccess: () => {
    editing.value = null
    void client.invalidateQueries({ queryKey: key })
  },
})

const due = (row: InstrumentOut) => {
  if (row.overdue_days === null) return 'not set'
  return row.overdue_days > 0 ? `⚠ ${row.overdue_days} days overdue` : (row.calibration_due ?? '')
}
</script>

<template>
  <StateNote
    v-if="!list.data.value"
    :error="list.error.value"
    waiting="Looking in the drawer…"
    :retry="() => list.refetch()"
  />
  <div v-else class="page">
    <p class="soft intro">
      Every reading keeps the instrument it was taken with; resolution and maximum permissible error
      (MPE) enter its uncertainty. An instrument on a line answers
      <kbd>Space</kbd> at the Bench; one that types like a keyboard needs no entry.
    </p>
    <table>
      <thead>
        <tr>
          <th>instrument</th>
          <th>kind</th>
          <th class="number">resolution</th>
          <th class="number">MPE</th>
          <th>unit</th>
          <th class="number">certified</th>
          <th>calibration due</th>
          <th>line</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in list.data.value" :key="row.id" :class="{ soft: row.retired }">
          <td>
            {{ row.name }}
            <span v-if="row.serial" class="soft small">{{ row.serial }}</span>
          </td>
          <td>{{ kindLabel(row.kind) }}</td>
          <td class="number">{{ row.resolution || '–' }}</td>
          <td class="number">{{ row.mpe }}</td>
          <td class="unit">{{ row.unit === 'dps' ? '°/side' : row.unit }}</td>
          <td class="number">{{ row.certified ?? '' }}</td>
          <td :class="(row.overdue_days ?? 0) > 0 ? 'rust' : 'soft'">{{ due(row) }}</td>
          <td :class="row.address && row.state !== 'ready' ? 'rust' : 'soft'" :title="row.words">
            {{ row.retired ? 'retired' : row.address ? labelOf('State', row.state) : '' }}
          </td>
          <td class="number">
            <button v-needs="'measure'" type="button" class="plain link" @click="edit(row)">
              edit
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-needs="'measure'">
      <v-btn v-if="editing === null" @click="edit(null)">Enter an instrument</v-btn>
    </p>
    <form v-if="editing !== null" @submit.prevent="keep.mutate()">
      <h2>{{ editing === 'new' ? 'A new instrument' : form.name }}</h2>
      <div class="fields">
        <v-text-field v-model="form.name" label="Name" maxlength="80" />
        <v-select v-model="form.kind" :items="kinds" label="Kind" :disabled="editing !== 'new'" />
        <v-text-field v-model="form.resolution" label="Resolution" inputmode="decimal" />
        <v-text-field v-model="form.mpe" label="Maximum permissible error" inputmode="decimal" />
        <v-text-field v-model="form.serial" label="Serial number" maxlength="40" />
        <v-text-field v-model="form.calibration_due" label="Calibration due" type="date" />
        <v-text-field
          v-if="form.kind === 'reference_block'"
          v-model="form.certified"
          label="Certified value, HRC"
          inputmode="decimal"
        />
        <v-text-field
          v-else
          v-model="form.address"
          label="Line (host:port)"
          placeholder="127.0.0.1:9100"
          :disabled="!may('set')"
          :hint="may('set') ? undefined : 'Only an owner can set it.'"
          :persistent-hint="!may('set')"
        />
        <v-checkbox v-model="form.retired" label="retired" hide-details />
      </div>
      <p v-if="keep.error.value" class="rust" role="alert">⚠ {{ keep.error.value.message }}</p>
      <p class="buttons">
        <v-btn type="submit" color="primary" variant="flat">Save</v-btn>
        <v-btn variant="text" @click="editing = null">Cancel</v-btn>
      </p>
    </form>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 12px;
  margin: 12px 0;
}

.page {
  overflow-x: auto;
}
</style>
