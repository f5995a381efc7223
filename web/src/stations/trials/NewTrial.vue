<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { useMutation } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { PointOut, ReadOut, TrialKind, WholeTrial } from '@/api/schema'
import KnifePicker from './KnifePicker.vue'
import ProtocolFields from './ProtocolFields.vue'
import { blankProtocol, protocolOf, unreadable, type ProtocolDraft } from './protocol'
import { newId } from '@/api/id'
import { stored } from '@/parts/stored'

/** Begin a trial: which knife, which kind, how, and where the points come from. */
const props = defineProps<{ kinds: TrialKind[]; kind: TrialKind; tester: string; piece?: number }>()
const emit = defineEmits<{ begun: [trial: WholeTrial]; leave: [] }>()

type Source = 'typed' | 'file' | 'tester'
const DRAFT = 'maple-rook.trial'
interface Draft {
  kind: TrialKind
  piece: number | null
  source: Source
  note: string
  text: string
  protocol: ProtocolDraft
}
const fresh = (): Draft => ({
  kind: props.kind,
  piece: props.piece ?? null,
  source: 'typed',
  note: '',
  text: '',
  protocol: blankProtocol(props.kind),
})
const form = reactive<Draft>({ ...fresh(), ...stored<Partial<Draft>>(DRAFT, {}) })
watch(form, (now) => localStorage.setItem(DRAFT, JSON.stringify(now)))
watch(
  () => form.kind,
  (kind) => {
    const asked = blankProtocol(kind)
    for (const key of ['medium', 'load', 'stroke', 'speed'] as const) {
      form.protocol[key] = asked[key]
    }
    if (form.source === 'tester' && !hasTester.value) form.source = 'typed'
  },
)

const hasTester = computed(() => form.kind === 'card' || form.kind === 'line')
const sources = computed<[Source, string][]>(() => [
  ['typed', 'typed point by point'],
  ['file', 'from a file'],
  ...(hasTester.value ? ([['tester', 'run on a tester']] as [Source, string][]) : []),
])
const EXAMPLE: Record<TrialKind, string> = {
  card: 'cycle;cut_mm\n1;15,2\n2;12,9',
  line: 'cuts;force_gf\n0;165\n20;210',
  count: 'run;cuts\n1;84\n2;92',
  kitchen: 'day;event\n2026-05-02;start\n2026-05-09;rod',
}

const read = ref<ReadOut | null>(null)
const look = useMutation({
  mutationFn: () =>
    data(api.POST('/api/trials/read', { body: { kind: form.kind, text: form.text } })),
  onSuccess: (found) => (read.value = found),
  onError: () => (read.value = null),
})
watch(
  () => [form.text, form.kind, form.source],
  () => {
    read.value = null
    look.reset()
    if (form.source === 'file' && form.text.trim()) look.mutate()
  },
  { immediate: true },
)
async function take(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) form.text = await file.text()
}

const offered = computed<PointOut[]>(() =>
  form.source === 'file' ? (read.value?.points ?? []) : [],
)
const wanting = computed(() => {
  if (form.piece === null) return 'Choose the knife.'
  const wrong = unreadable(form.protocol)
  if (wrong.length) return `A number is wanted for ${wrong.join(', ')}.`
  if (form.source === 'file' && !offered.value.length) return 'Give a file with points.'
  return ''
})
let clientId = newId()
const begin = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/trials', {
        body: {
          client_id: clientId,
          piece_id: form.piece ?? 0,
          kind: form.kind,
          protocol: protocolOf(form.protocol, form.kind),
          source: form.source,
          given: form.source === 'file' ? form.text : '',
          note: form.note,
          points: offered.value.map((p) => ({
            client_id: newId(),
            x: p.x,
            value: p.value,
            event: p.event === '' ? null : (p.event as 'rod'),
          })),
        },
      }),
    ),
  onSuccess: (trial) => {
    clientId = newId()
    localStorage.removeItem(DRAFT)
    emit('begun', trial)
  },
})
</script>

<template>
  <form class="new" aria-label="A new trial" @submit.prevent="begin.mutate()">
    <h2>A new trial</h2>
    <div class="first">
      <KnifePicker v-model="form.piece" />
      <v-select
        v-model="form.kind"
        :items="kinds.map((k) => ({ value: k, title: labelOf('TrialKind', k) }))"
        label="Kind"
      />
    </div>
    <ProtocolFields v-model="form.protocol" :kind="form.kind" />
    <fieldset class="sources">
      <legend class="soft small">Points</legend>
      <label v-for="[value, words] in sources" :key="value">
        <input v-model="form.source" type="radio" name="source" :value="value" /> {{ words }}
      </label>
    </fieldset>
    <template v-if="form.source === 'file'">
      <p class="small soft">
        Two columns, separated by semicolon, tab or comma. A heading and lines that begin with # are
        ignored. <input type="file" accept=".csv,.tsv,.txt,text/*" @change="take" />
      </p>
      <v-textarea
        v-model="form.text"
        label="The file's text"
        :placeholder="EXAMPLE[form.kind]"
        rows="5"
        maxlength="200000"
      />
      <p v-if="look.error.value" class="rust" role="alert">⚠ {{ look.error.value.message }}</p>
      <div v-if="read" class="read" role="status">
        <p>
          <b>{{ read.points.length }} rows can be stored</b
          >{{ read.bad.length ? `, ${read.bad.length} cannot:` : '.' }}
        </p>
        <ul v-if="read.bad.length" class="rust">
          <li v-for="row in read.bad" :key="row.line">
            ⚠ line {{ row.line }} <code>{{ row.text }}</code> {{ row.why }}
          </li>
        </ul>
      </div>
    </template>
    <p v-else-if="form.source === 'tester'" class="small" :class="tester ? 'soft' : 'rust'">
      {{
        form.kind === 'card' && !tester
          ? '⚠ No card tester is on the line.'
          : 'The tester runs when the trial is begun, cycle by cycle; it can be stopped and continued.'
      }}
      Guard the edge until it is clamped, and keep fingers out of the stroke.
    </p>
    <p v-else class="small soft">Points are entered beside the trial once it is begun.</p>
    <v-text-field v-model="form.note" label="Note" maxlength="400" />
    <p v-if="begin.error.value" class="rust" role="alert">⚠ {{ begin.error.value.message }}</p>
    <p v-else-if="wanting" class="soft small">{{ wanting }}</p>
    <p class="buttons">
      <v-btn
        type="submit"
        color="primary"
        variant="flat"
        :disabled="wanting !== ''"
        :loading="begin.isPending.value"
      >
        {{ form.source === 'file' ? `Start with ${offered.length} points` : 'Start the trial' }}
      </v-btn>
      <v-btn variant="text" @click="emit('leave')">Cancel</v-btn>
    </p>
  </form>
</template>

<style scoped>
.new {
  display: grid;
  gap: 10px;
}

.first {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 10px;
}

.sources {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  margin: 0;
  padding: 0;
  border: 0;
}

.read ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}

p {
  margin: 0;
}
</style>
