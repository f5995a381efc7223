<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { useMutation } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { BenchSheetOut, EdgeIn, ProfileOut } from '@/api/schema'
import EdgeOnBoard from '@/drawings/EdgeOnBoard.vue'
import { rounded } from '@/parts/numbers'
import { newId } from '@/api/id'
import { stored } from '@/parts/stored'

/** The edge line: gaps under a straight edge by station, or pasted coordinates; shown, then kept. */
const props = defineProps<{ sheet: BenchSheetOut; locked: boolean }>()
const emit = defineEmits<{ kept: [] }>()

type Source = EdgeIn['source']
const SOURCES: [Source, string][] = [
  ['stations', 'gaps by station'],
  ['columns', 'coordinates'],
  ['svg', 'SVG path'],
]
const KEY = computed(() => `maple-rook.edge.${props.sheet.id}`)
const blank = () => ({ source: 'stations' as Source, gaps: '', tip: '', text: '', toLength: false })
const form = ref({ ...blank(), ...stored<Partial<ReturnType<typeof blank>>>(KEY.value, {}) })
watch(form, (now) => localStorage.setItem(KEY.value, JSON.stringify(now)), { deep: true })

const stations = computed(() =>
  form.value.gaps
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .map((line) => {
      const [at = '', ...gap] = line.split(/[;:\t]|\s+(?=[\d.,])/)
      return { at: at.trim(), gap: gap.join(' ').trim() || '0' }
    }),
)
const body = computed<EdgeIn>(() => {
  const gaps = form.value.source === 'stations'
  return {
    source: form.value.source,
    stations: gaps ? stations.value : [],
    tip_height: gaps ? form.value.tip.trim() || null : null,
    text: gaps ? '' : form.value.text,
    to_length: !gaps && form.value.toLength,
  }
})
const path = computed(() => ({ params: { path: { sheet_id: props.sheet.id } } }))
const shown = ref<ProfileOut | null>(null)

const preview = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/bench/sheets/{sheet_id}/edge/preview', { ...path.value, body: body.value }),
    ),
  onSuccess: (profile) => (shown.value = profile),
  onError: () => (shown.value = null),
})
let clientId = newId()
const keep = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/bench/sheets/{sheet_id}/edge', {
        ...path.value,
        body: { ...body.value, client_id: clientId, taken_at: new Date().toISOString() },
      }),
    ),
  onSuccess: () => {
    clientId = newId()
    localStorage.removeItem(KEY.value)
    emit('kept')
  },
})
const fault = computed(() => preview.error.value ?? keep.error.value)

async function open(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  form.value.text = (await file.text()).slice(0, 200_000)
  form.value.source = file.name.toLowerCase().endsWith('.svg') ? 'svg' : 'columns'
  preview.mutate()
}
</script>

<template>
  <details class="trace" :open="!sheet.edge_traced">
    <summary>
      The edge line
      <span class="soft small">
        {{ sheet.edge_traced ? 'saved; enter it again to replace it' : 'if you like' }}
      </span>
    </summary>
    <fieldset :disabled="locked">
      <p class="sources">
        <label v-for="[key, label] in SOURCES" :key="key">
          <input v-model="form.source" type="radio" :value="key" /> {{ label }}
        </label>
        <label class="file">
          open a file
          <input
            class="visually-hidden"
            type="file"
            accept=".csv,.txt,.svg"
            aria-label="Open a file"
            @change="open"
          />
        </label>
      </p>
      <template v-if="form.source === 'stations'">
        <label class="small">
          Distance from the heel and gap under a straight edge, one place a line: <i>60 0.2</i>
          <textarea
            v-model="form.gaps"
            rows="6"
            placeholder="20 0&#10;60 0&#10;120 0.7&#10;175 6.2"
            aria-label="Distance and gap, one place a line"
          />
        </label>
        <label class="tip small">
          Tip above the board
          <input v-model="form.tip" placeholder="14 mm" aria-label="Tip above the board" />
        </label>
      </template>
      <template v-else>
        <label class="small">
          {{
            form.source === 'svg'
              ? 'An SVG file, or the d of its path; heel first'
              : 'x and y in mm, one point a line; heel first, y up'
          }}
          <textarea v-model="form.text" rows="6" aria-label="Traced edge" />
        </label>
        <label class="small">
          <input v-model="form.toLength" type="checkbox" /> another scale: stretch it to the
          measured edge length
        </label>
      </template>
      <p class="buttons">
        <v-btn :loading="preview.isPending.value" @click="preview.mutate()"
          >Preview on the board</v-btn
        >
        <v-btn
          v-if="shown"
          color="primary"
          variant="flat"
          :loading="keep.isPending.value"
          @click="keep.mutate()"
        >
          Save this edge
        </v-btn>
      </p>
    </fieldset>
    <p v-if="fault" class="rust" role="alert"><strong>⚠ Not stored.</strong> {{ fault.message }}</p>
    <template v-if="shown">
      <EdgeOnBoard :outline="sheet.outline" :profile="shown" />
      <p class="small">
        <b>{{ labelOf('ProfileClass', shown.kind) }}</b>: {{ shown.reasons.join(', ') }}; flat
        {{ rounded(shown.flat_length_mm, 0) }} mm.
        <span v-if="shown.hollow" class="rust">
          ⚠ hollow of {{ rounded(shown.hollow.gap_mm, 2) }} mm at
          {{ rounded(shown.hollow.at_mm, 0) }} mm
        </span>
      </p>
    </template>
  </details>
</template>

<style scoped>
.trace {
  margin-top: 12px;
  border-top: 1px solid var(--hairline);
  padding-top: 8px;
}

summary {
  cursor: pointer;
  font-weight: 600;
}

fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}

.sources {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 8px 0;
}

.file {
  color: var(--measured);
  text-decoration: underline;
  cursor: pointer;
}

textarea,
.tip input {
  box-sizing: border-box;
  display: block;
  width: 100%;
}

.tip input {
  width: 120px;
}
</style>
