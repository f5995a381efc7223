<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import { newId } from '@/api/id'
import type { RepeatabilitiesOut, StudyIn, StudyOut } from '@/api/schema'
import { deviation, emptyGrid, isWhole, resized } from './scatter'

/** A repeat study: the same pieces read by several people, several times each. */
const props = defineProps<{
  instruments: RepeatabilitiesOut['instruments']
  people: string[]
}>()
const emit = defineEmits<{ done: [now: RepeatabilitiesOut]; leave: [] }>()

const { catalogue } = useCatalogue()
const labels = computed(
  () => new Map((catalogue.value?.quantities ?? []).map((q) => [q.key, q.label])),
)

const clientId = newId()
const instrument = ref(props.instruments[0]?.id ?? 0)
const quantity = ref<StudyIn['quantity'] | null>(null)
const quantities = computed(() =>
  (props.instruments.find((i) => i.id === instrument.value)?.quantities ?? []).map((key) => ({
    value: key,
    title: labels.value.get(key) ?? key,
  })),
)
watch(quantities, (now) => {
  if (!now.some((q) => q.value === quantity.value)) quantity.value = now[0]?.value ?? null
})
if (quantities.value[0]) quantity.value = quantities.value[0].value

const who = ref([props.people[0] ?? 'first person', props.people[1] ?? 'second person'])
const pieces = ref(['piece 1', 'piece 2', 'piece 3'])
const repeats = ref(3)
const grid = ref(emptyGrid(2, 3, 3))
watch(
  [() => who.value.length, () => pieces.value.length, repeats],
  ([people, of, times]) => (grid.value = resized(grid.value, people, of, times)),
)

const body = computed<StudyIn | null>(() =>
  quantity.value && isWhole(grid.value)
    ? {
        client_id: clientId,
        quantity: quantity.value,
        instrument_id: instrument.value,
        people: who.value,
        pieces: pieces.value,
        readings: grid.value,
      }
    : null,
)
const said = ref<StudyOut | null>(null)
watch(body, () => (said.value = null))
const look = useMutation({
  mutationFn: (asked: StudyIn) =>
    data(api.POST('/api/repeatability/studies/preview', { body: asked })),
  onSuccess: (found) => (said.value = found),
})
const keep = useMutation({
  mutationFn: (asked: StudyIn) => data(api.POST('/api/repeatability/studies', { body: asked })),
  onSuccess: (now) => emit('done', now),
})
const PARTS = [
  { key: 'repeatability', label: 'Repeats of one person on one piece' },
  { key: 'between_people', label: 'Between people' },
  { key: 'between_pieces', label: 'Between pieces' },
] as const
const percent = (share: number) =>
  share > 0 && share < 0.01 ? 'under 1 %' : `${Math.min(99, Math.round(100 * share))} %`
const error = computed(() => look.error.value ?? keep.error.value)
</script>

<template>
  <form aria-label="Repeat study" @submit.prevent="body && look.mutate(body)">
    <h2>Repeat study</h2>
    <p class="soft intro">
      Two people read three pieces three times each, in mixed order and without seeing the earlier
      readings. Type them as at the Bench; units are understood.
    </p>
    <div class="fields">
      <v-select
        v-model="instrument"
        :items="instruments.map((i) => ({ value: i.id, title: i.name }))"
        label="Instrument"
      />
      <v-select v-model="quantity" :items="quantities" label="Quantity" />
      <v-select v-model="repeats" :items="[2, 3, 4, 5]" label="Readings each" />
    </div>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th>piece</th>
            <th v-for="(_, p) in who" :key="p" :colspan="repeats">
              <input v-model="who[p]" :aria-label="`Person ${p + 1}`" maxlength="80" />
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(_, k) in pieces" :key="k">
            <td>
              <input v-model="pieces[k]" :aria-label="`Piece ${k + 1}`" maxlength="80" />
            </td>
            <template v-for="(person, p) in grid" :key="p">
              <td v-for="(__, n) in person[k]" :key="n" :class="{ first: n === 0 }">
                <input
                  v-model="person[k]![n]"
                  class="reading"
                  inputmode="decimal"
                  maxlength="64"
                  :aria-label="`${who[p]}, ${pieces[k]}, reading ${n + 1}`"
                />
              </td>
            </template>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="buttons">
      <v-btn :disabled="pieces.length >= 10" @click="pieces.push(`piece ${pieces.length + 1}`)">
        Another piece
      </v-btn>
      <v-btn :disabled="who.length >= 5" @click="who.push(`person ${who.length + 1}`)">
        Another person
      </v-btn>
    </p>
    <p v-if="error" class="rust" role="alert">⚠ {{ error.message }}</p>
    <div v-if="said" role="status">
      <table class="parts">
        <thead>
          <tr>
            <th>part of the variance</th>
            <th class="number">standard deviation</th>
            <th>unit</th>
            <th class="number">share</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="part in PARTS" :key="part.key">
            <td>{{ part.label }}</td>
            <td class="number">
              <b>{{ deviation(said[part.key]) }}</b>
            </td>
            <td class="unit">{{ said.unit === 'dps' ? '°/side' : said.unit }}</td>
            <td class="number">{{ percent(said.shares[part.key] ?? 0) }}</td>
          </tr>
        </tbody>
      </table>
      <p class="soft">
        With what is usual as three degrees of freedom beside its {{ said.freedom }}, one reading
        counts {{ deviation(said.used) }}; what people differ by is added to every figure and does
        not shrink with repeats.
      </p>
    </div>
    <p class="buttons">
      <v-btn v-if="!said" type="submit" :disabled="!body" :loading="look.isPending.value">
        Analyse
      </v-btn>
      <v-btn
        v-else
        color="primary"
        variant="flat"
        :loading="keep.isPending.value"
        @click="body && keep.mutate(body)"
      >
        Adopt and recalculate
      </v-btn>
      <v-btn variant="text" @click="emit('leave')">Cancel</v-btn>
    </p>
  </form>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 10px 16px;
  max-width: 700px;
}

.scroll {
  overflow-x: auto;
}

.scroll table {
  width: max-content;
}

th input {
  font-weight: 600;
}

.reading {
  width: 76px;
  text-align: right;
}

td.first {
  padding-left: 18px;
}

.parts {
  max-width: 560px;
}
</style>
