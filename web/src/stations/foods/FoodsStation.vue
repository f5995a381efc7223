<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { api, data } from '@/api/client'
import type { FoodIn, FoodOut, FoodsOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'

/** What the shop cuts, and how each food resists: every cutting prediction is made with these. */
const queries = useQueryClient()
const list = useQuery({ queryKey: ['foods'], queryFn: () => data(api.GET('/api/foods')) })

const COLUMNS = [
  ['toughness_j_m2', 'toughness', 'J/m²'],
  ['blunting_um', 'blunting length', 'µm'],
  ['modulus_mpa', 'edge stiffness', 'MPa'],
  ['crush_mpa', 'crushes at', 'MPa'],
  ['crush_mm', 'crushed over', 'mm'],
  ['stiffness_n_mm3', 'side stiffness', 'N/mm³'],
  ['friction', 'friction', ''],
  ['adhesion_kpa', 'sticking', 'kPa'],
  ['height_mm', 'height', 'mm'],
  ['width_mm', 'width', 'mm'],
  ['slice_stiffness', 'slice over block', ''],
] as const
type Column = (typeof COLUMNS)[number][0]

const editing = ref<string | null>(null)
/** Which version of it is being edited. */
const seen = ref('')
const blank = Object.fromEntries(COLUMNS.map(([key]) => [key, ''])) as Record<Column, string>
const form = reactive<Record<Column | 'label', string>>({ label: '', ...blank })
const body = computed<FoodIn>(() => {
  const number = (key: Column) => Number(form[key].trim().replace(',', '.') || NaN)
  const values = COLUMNS.map(([key]) => [key, number(key)])
  return { label: form.label, ...(Object.fromEntries(values) as Record<Column, number>) }
})
const incomplete = computed(() =>
  COLUMNS.filter(([key]) => !Number.isFinite(body.value[key])).map(([, label]) => label),
)

function edit(food: FoodOut | null): void {
  keep.reset()
  editing.value = food?.key ?? 'new'
  seen.value = food?.etag ?? ''
  form.label = food?.label ?? ''
  for (const [key] of COLUMNS) form[key] = food ? String(food[key]) : ''
}

function shown(now: FoodsOut): void {
  queries.setQueryData(['foods'], now)
  editing.value = null
  for (const key of ['catalogue', 'sheet', 'board', 'rack', 'cut', 'what-if']) {
    void queries.invalidateQueries({ queryKey: [key] })
  }
}

const keep = useMutation({
  mutationFn: () =>
    editing.value === 'new'
      ? data(api.POST('/api/foods', { body: body.value }))
      : data(
          api.PUT('/api/foods/{key}', {
            params: { path: { key: editing.value ?? '' }, header: { 'If-Match': seen.value } },
            body: body.value,
          }),
        ),
  onSuccess: shown,
})
const drop = useMutation({
  mutationFn: ({ key, etag }: FoodOut) =>
    data(
      api.DELETE('/api/foods/{key}', { params: { path: { key }, header: { 'If-Match': etag } } }),
    ),
  onSuccess: shown,
})
const restore = useMutation({
  mutationFn: () => data(api.POST('/api/foods/restore')),
  onSuccess: shown,
})
</script>

<template>
  <StateNote
    v-if="!list.data.value"
    :error="list.error.value"
    waiting="Fetching the foods…"
    :retry="() => list.refetch()"
  />
  <div v-else class="page">
    <h2>Foods</h2>
    <p class="soft intro">
      Every cutting prediction is made with these. The toughness of carrot and cheese follows
      published tests, quoted from memory; the rest are orders of magnitude, fitted to what people
      who cut report: good for comparing knives, not for absolute forces. Adjust them to your own
      experience; the supplied values can be restored at any time.
    </p>
    <table class="foods">
      <thead>
        <tr>
          <th>food</th>
          <th v-for="[key, label, unit] in COLUMNS" :key="key" class="number">
            {{ label }} <span class="unit">{{ unit }}</span>
          </th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="food in list.data.value.foods" :key="food.key">
          <td class="name">
            {{ food.label }}
            <span v-if="food.own" class="soft small">your own</span>
            <span v-else-if="food.changed" class="soft small">changed</span>
            <span
              v-if="food.estimated"
              class="rust small"
              title="values this shop had not set are taken from a similar food"
            >
              partly estimated
            </span>
          </td>
          <td v-for="[key] in COLUMNS" :key="key" class="number">{{ food[key] }}</td>
          <td class="acts">
            <span v-needs="'measure'">
              <button type="button" class="plain link" @click="edit(food)">edit</button>
              <button
                type="button"
                class="plain link"
                :aria-label="`Take ${food.label} off`"
                @click="drop.mutate(food)"
              >
                remove
              </button>
            </span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-needs="'measure'" class="buttons">
      <v-btn v-if="editing === null" @click="edit(null)">Add a food</v-btn>
      <v-btn :disabled="list.data.value.as_shipped" @click="restore.mutate()">
        Restore the supplied set
      </v-btn>
    </p>
    <p v-if="drop.error.value" class="rust" role="alert">⚠ {{ drop.error.value.message }}</p>
    <form v-if="editing !== null" @submit.prevent="keep.mutate()">
      <h2>{{ editing === 'new' ? 'A new food' : form.label }}</h2>
      <div class="fields">
        <v-text-field v-model="form.label" label="Name" maxlength="80" />
        <v-text-field
          v-for="[key, label, unit] in COLUMNS"
          :key="key"
          v-model="form[key]"
          :label="unit ? `${label}, ${unit}` : label"
          inputmode="decimal"
        />
      </div>
      <p v-if="keep.error.value" class="rust" role="alert">⚠ {{ keep.error.value.message }}</p>
      <p v-else-if="incomplete.length" class="soft small">
        A number is wanted for {{ incomplete.join(', ') }}.
      </p>
      <p class="buttons">
        <v-btn
          type="submit"
          color="primary"
          variant="flat"
          :disabled="incomplete.length > 0 || !form.label.trim()"
        >
          Save
        </v-btn>
        <v-btn variant="text" @click="editing = null">Cancel</v-btn>
      </p>
    </form>
  </div>
</template>

<style scoped>
.link {
  text-decoration: underline;
  color: var(--measured) !important;
  margin-left: 8px;
}

.foods th {
  white-space: normal;
  vertical-align: bottom;
}

.foods th:not(:first-child) {
  max-width: 76px;
}

.foods th .unit {
  display: block;
}

.foods .name {
  min-width: 150px;
}

.foods .acts {
  white-space: nowrap;
  text-align: right;
}

.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 12px;
  margin: 12px 0;
}

.page {
  overflow-x: auto;
}
</style>
