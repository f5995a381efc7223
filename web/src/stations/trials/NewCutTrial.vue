<script setup lang="ts">
import { useCatalogue } from '@/api/catalogue'
import { useMutation } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import { newId } from '@/api/id'
import type { CutFileOut, EdgeState, WholeCutSession } from '@/api/schema'
import { rounded } from '@/parts/numbers'
import { stored } from '@/parts/stored'

/** Begin a session of cuts: from a load cell's file, or empty to be filled cut by cut. */
const emit = defineEmits<{ begun: [session: WholeCutSession]; leave: [] }>()

const DRAFT = 'maple-rook.cut-trial'
interface Draft {
  source: 'file' | 'typed'
  edge: EdgeState
  note: string
  text: string
}
const fresh = (): Draft => ({ source: 'file', edge: 'fresh', note: '', text: '' })
const form = reactive<Draft>({ ...fresh(), ...stored<Partial<Draft>>(DRAFT, {}) })
watch(form, (now) => localStorage.setItem(DRAFT, JSON.stringify(now)))
const { catalogue } = useCatalogue()
const EXAMPLE =
  'knife;food;lot;depth mm;force N\nKH-01;carrot;Friday;3;18,4\nKH-01;carrot;Friday;6;21,0'

const read = ref<CutFileOut | null>(null)
const look = useMutation({
  mutationFn: () => data(api.POST('/api/cut-trials/read', { body: { text: form.text } })),
  onSuccess: (found) => (read.value = found),
  onError: () => (read.value = null),
})
watch(
  () => [form.text, form.source],
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

const good = computed(() =>
  form.source === 'file' ? (read.value?.cuts ?? []).filter((cut) => !cut.wrong) : [],
)
const counted = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`
let clientId = newId()
const begin = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/cut-trials', {
        body: {
          client_id: clientId,
          source: form.source,
          edge: form.edge,
          note: form.note,
          given: form.source === 'file' ? form.text : '',
          cuts: good.value.map((cut) => ({
            client_id: newId(),
            piece_id: cut.piece_id ?? 0,
            food: cut.food_key ?? '',
            stroke: cut.stroke,
            lot: cut.lot,
            height_mm: cut.height_mm,
            width_mm: cut.width_mm,
            depth_mm: cut.depth_mm,
            force_n: cut.force_n,
          })),
        },
      }),
    ),
  onSuccess: (made) => {
    clientId = newId()
    localStorage.removeItem(DRAFT)
    emit('begun', made)
  },
})
</script>

<template>
  <form class="new" aria-label="A new cut trial" @submit.prevent="begin.mutate()">
    <h2>A new cut trial</h2>
    <p class="soft small">
      A load cell or a scale under the board reads the downward force. Same lot of a food for all
      knives, same place on the board, one straight cut each. Cut away from the hand that holds the
      food, fingers curled; secure the board.
    </p>
    <fieldset class="sources">
      <legend class="soft small">Cuts</legend>
      <label><input v-model="form.source" type="radio" value="file" /> from a file</label>
      <label
        ><input v-model="form.source" type="radio" value="typed" /> one by one, typed or from the
        scale</label
      >
    </fieldset>
    <div class="first">
      <v-select
        v-model="form.edge"
        :items="(catalogue?.edges ?? []).map((e) => ({ value: e.key, title: e.label }))"
        label="State of the edges"
      />
      <v-text-field v-model="form.note" label="Note" maxlength="400" />
    </div>
    <template v-if="form.source === 'file'">
      <p class="small soft">
        A heading that names the columns (knife, food, depth, force; lot, stroke, cut, height and
        width if you have them) with their units, then a line a reading. Without a depth each line
        is a peak.
        <input
          type="file"
          aria-label="File of cuts"
          accept=".csv,.tsv,.txt,text/*"
          @change="take"
        />
      </p>
      <v-textarea
        v-model="form.text"
        label="The file's text"
        :placeholder="EXAMPLE"
        rows="5"
        maxlength="2000000"
      />
      <p v-if="look.error.value" class="rust" role="alert">⚠ {{ look.error.value.message }}</p>
      <div v-if="read" role="status">
        <p>
          <b>{{ good.length }} of {{ counted(read.cuts.length, 'cut') }} can be stored</b
          >{{ read.bad.length ? `, ${counted(read.bad.length, 'line')} cannot be read:` : '.' }}
        </p>
        <ul v-if="read.bad.length" class="rust small">
          <li v-for="row in read.bad.slice(0, 12)" :key="row.line">
            ⚠ line {{ row.line }} <code>{{ row.text }}</code> {{ row.why }}
          </li>
          <li v-if="read.bad.length > 12">and {{ read.bad.length - 12 }} more</li>
        </ul>
        <table v-if="read.cuts.length">
          <thead>
            <tr>
              <th>knife</th>
              <th>food</th>
              <th class="number">readings</th>
              <th class="number">peak, N</th>
              <th>remarks</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="cut in read.cuts" :key="`${cut.line}`">
              <td>{{ cut.knife }}</td>
              <td>{{ cut.food }}</td>
              <td class="number">{{ cut.force_n.length }}</td>
              <td class="number">{{ rounded(cut.peak_n, 1) }}</td>
              <td class="small">
                <span v-if="cut.wrong" class="rust">⚠ not kept: {{ cut.wrong }}</span>
                <span v-else class="soft">{{ cut.notes.join('; ') }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
    <p v-if="begin.error.value" class="rust" role="alert">⚠ {{ begin.error.value.message }}</p>
    <p class="buttons">
      <v-btn
        type="submit"
        color="primary"
        variant="flat"
        :disabled="form.source === 'file' && !good.length"
        :loading="begin.isPending.value"
      >
        {{ form.source === 'file' ? `Store ${counted(good.length, 'cut')}` : 'Start the session' }}
      </v-btn>
      <v-btn variant="text" @click="emit('leave')">Cancel</v-btn>
    </p>
  </form>
</template>

<style scoped>
.new {
  display: grid;
  gap: 10px;
  max-width: 900px;
  margin-top: 12px;
}

.first {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
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

p {
  margin: 0;
}

ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
</style>
