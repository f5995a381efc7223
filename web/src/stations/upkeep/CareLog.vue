<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { useMutation } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, data } from '@/api/client'
import type { DoneOut, EdgeCare } from '@/api/schema'
import { rounded } from '@/parts/numbers'
import { todayIso } from './care'
import { newId } from '@/api/id'
import { dayText } from '@/parts/moments'

/** The log of what was done, and a line to write the next; nothing in it is ever changed. */
const props = defineProps<{ pieceId: number; log: DoneOut[] }>()
const emit = defineEmits<{ changed: [] }>()

const CARES: EdgeCare[] = ['stone', 'rod', 'strop', 'thinning', 'file_bolster', 'repair']
const line = reactive({
  care: 'stone' as EdgeCare,
  done_on: todayIso(),
  angle_deg: '',
  grit: '',
  height_mm: '',
  behind_edge_mm: '',
  minutes: '',
  note: '',
})
const NUMBERS = ['angle_deg', 'grit', 'height_mm', 'behind_edge_mm', 'minutes'] as const
const LABELS = {
  angle_deg: '° per side',
  grit: 'last grit',
  height_mm: 'height after, mm',
  behind_edge_mm: 'behind the edge after, mm',
  minutes: 'minutes',
}
const number = (text: string) => (text.trim() ? Number(text.replace(',', '.')) : null)
const wrong = computed(() => NUMBERS.some((key) => Number.isNaN(number(line[key]))))
let clientId = newId()
const write = useMutation({
  mutationFn: () =>
    data(
      api.POST('/api/pieces/{piece_id}/upkeep/log', {
        params: { path: { piece_id: props.pieceId } },
        body: {
          client_id: clientId,
          care: line.care,
          done_on: line.done_on,
          note: line.note,
          ...Object.fromEntries(NUMBERS.map((key) => [key, number(line[key])])),
        },
      }),
    ),
  onSuccess: () => {
    clientId = newId()
    for (const key of [...NUMBERS, 'note'] as const) line[key] = ''
    emit('changed')
  },
})
const FEW = 6
const all = ref(false)
const shown = computed(() => (all.value ? props.log : props.log.slice(0, FEW)))
const striking = ref<number | null>(null)
const reason = ref('')
const strike = useMutation({
  mutationFn: (id: number) =>
    data(
      api.POST('/api/upkeep/log/{done_id}/void', {
        params: { path: { done_id: id } },
        body: { reason: reason.value },
      }),
    ),
  onSuccess: () => {
    striking.value = null
    reason.value = ''
    emit('changed')
  },
})
const after = (row: DoneOut) =>
  [
    row.height_mm === null ? '' : `${rounded(row.height_mm, 2)} mm high`,
    row.behind_edge_mm === null ? '' : `${rounded(row.behind_edge_mm, 2)} behind the edge`,
  ]
    .filter(Boolean)
    .join(', ')
const told = (row: DoneOut) =>
  [
    row.angle_deg === null ? '' : `${row.angle_deg}°`,
    row.grit === null ? '' : `to ${row.grit}`,
    row.minutes === null ? '' : `${row.minutes} min`,
    row.note,
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <div>
    <h2>Log</h2>
    <form v-needs="'advise'" class="line no-print" @submit.prevent="write.mutate()">
      <v-select
        v-model="line.care"
        :items="CARES.map((c) => ({ value: c, title: labelOf('EdgeCare', c) }))"
        label="what was done"
      />
      <v-text-field v-model="line.done_on" label="on" type="date" />
      <v-text-field
        v-for="key in NUMBERS"
        :key="key"
        v-model="line[key]"
        :label="LABELS[key]"
        inputmode="decimal"
      />
      <v-text-field v-model="line.note" label="note" maxlength="400" />
      <v-btn type="submit" :disabled="wrong || !line.done_on" :loading="write.isPending.value">
        Add entry
      </v-btn>
    </form>
    <p v-if="wrong" class="rust" role="alert">⚠ Numbers only, such as 46.2 or 46,2.</p>
    <p v-if="write.error.value" class="rust" role="alert">⚠ {{ write.error.value.message }}</p>
    <div v-if="log.length" class="scroll">
      <table>
        <thead>
          <tr>
            <th>day</th>
            <th>done</th>
            <th>measured after</th>
            <th>how</th>
            <th><span class="visually-hidden">strike out</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in shown" :key="row.id" :class="{ struck: row.voided }">
            <td class="day">{{ dayText(row.done_on) }}</td>
            <td>{{ labelOf('EdgeCare', row.care) }}</td>
            <td>{{ after(row) }}</td>
            <td class="soft small">{{ told(row) }} · {{ row.person }}</td>
            <td class="small">
              <span v-if="row.voided" class="soft">struck out: {{ row.voided }}</span>
              <form v-else-if="striking === row.id" @submit.prevent="strike.mutate(row.id)">
                <v-text-field v-model="reason" label="why" maxlength="200" />
                <v-btn type="submit" size="small" :disabled="!reason.trim()">Strike out</v-btn>
              </form>
              <button v-else type="button" class="plain soft" @click="striking = row.id">
                strike out
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <button
      v-if="log.length > FEW && !all"
      type="button"
      class="plain link small"
      @click="all = true"
    >
      all {{ log.length }} entries
    </button>
    <p v-if="!log.length" class="soft">
      Nothing yet. The height after each sharpening shows how much it takes off this knife.
    </p>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 8px;
  margin-bottom: 10px;
  align-items: center;
}

.day,
td:last-child button {
  white-space: nowrap;
}

.link {
  padding: 6px 0;
}

.struck td:not(:last-child) {
  text-decoration: line-through;
  color: var(--soft-ink);
}
</style>
