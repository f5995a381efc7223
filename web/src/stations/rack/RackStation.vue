<script setup lang="ts">
import { computed, defineAsyncComponent, onUnmounted, reactive, ref } from 'vue'
import { addressOf } from '@/api/base'
import { items, useCatalogue } from '@/api/catalogue'
import type { FoodMix, RackRow, Stock } from '@/api/schema'
import BehindNote from '@/parts/BehindNote.vue'
import PrintLabels from '@/parts/PrintLabels.vue'
import { settled } from '@/parts/settled'
import StateNote from '@/parts/StateNote.vue'
import { useHand } from '@/strip/store'
import FirstHint from './FirstHint.vue'
import { easeFor, usePages } from './pages'
import RackRails from './RackRails.vue'
import RackTable from './RackTable.vue'
import WordSwitch from '@/parts/WordSwitch.vue'

/** The knives come first; the sliders once the page has nothing else to do. */
const RangeFilter = defineAsyncComponent(async () => {
  await new Promise<void>((idle) => {
    if ('requestIdleCallback' in window) requestIdleCallback(() => idle(), { timeout: 500 })
    else setTimeout(idle, 100)
  })
  return import('./RangeFilter.vue')
})

const hand = useHand()
const count = (n: number) => n.toLocaleString('en')
const { catalogue, typeLabel } = useCatalogue()

const search = ref('')
const looked = settled(search)
const sort = ref('name')
const descending = ref(false)
const foodMix = ref<FoodMix>('all_round')
const types = ref<string[]>([])
const stock = ref<'in_stock' | Stock>('in_stock')
const VIEWS = [
  ['rails', 'rails'],
  ['table', 'table'],
] as const
const view = ref<'rails' | 'table'>('rails')
const limits = reactive<Record<string, [number, number]>>({})
const filtersOpen = ref(false)

const within = computed(() =>
  Object.entries(limits).map(([k, [low, high]]) => `${k}:${low}:${high}`),
)
const asked = computed(() => ({
  search: looked.value,
  sort: sort.value,
  descending: descending.value,
  food_mix: foodMix.value,
  knife_type: types.value,
  within: within.value,
  stock: stock.value === 'in_stock' ? [] : [stock.value],
}))
const first = ref(0)
const last = ref(0)
const { head, at: found, error, again } = usePages(asked, first, last)

function at(place: number): RackRow | undefined {
  const row = found(place)
  return row && easeFor(row, foodMix.value)
}

function see(from: number, to: number): void {
  first.value = from
  last.value = to
}

/** The same search and ranges as the address of a file. */
const asTable = computed(() => {
  const { search, sort: by, descending: down, food_mix, knife_type, within: ranges } = asked.value
  const given = new URLSearchParams({ search, sort: by, descending: String(down), food_mix })
  for (const type of knife_type) given.append('knife_type', type)
  for (const range of ranges) given.append('within', range)
  for (const state of asked.value.stock) given.append('stock', state)
  return given.toString()
})
const span = computed(() => Math.max(200, head.value?.longest_mm ?? 0))
const typeChoices = computed(() =>
  Object.entries(head.value?.knife_types ?? {})
    .map(([value, count]) => ({ value, title: `${typeLabel(value)} (${count})` }))
    .sort((a, b) => a.title.localeCompare(b.title)),
)
const filtered = computed(() =>
  Boolean(looked.value || types.value.length || within.value.length || stock.value !== 'in_stock'),
)
const stocks = computed(() => [
  { value: 'in_stock', title: 'in stock' },
  ...Object.entries(catalogue.value?.labels.Stock ?? {}).map(([value, title]) => ({
    value,
    title,
  })),
])

function setRange(key: string, range: [number, number] | null): void {
  if (range) limits[key] = range
  else delete limits[key]
}

function clear(): void {
  search.value = looked.value = ''
  types.value = []
  stock.value = 'in_stock'
  for (const key of Object.keys(limits)) delete limits[key]
}

function point(id: number | null): void {
  hand.current = id
}

onUnmounted(() => point(null))
</script>

<template>
  <FirstHint :knives="head?.total" />
  <div class="rack">
    <aside class="filters no-print" :class="{ open: filtersOpen }" aria-label="Filters">
      <v-text-field
        v-model="search"
        label="Search"
        placeholder="name, tag, steel, flag"
        clearable
        maxlength="200"
        @click:clear="search = ''"
      />
      <button
        type="button"
        class="plain more soft small"
        :aria-expanded="filtersOpen"
        @click="filtersOpen = !filtersOpen"
      >
        {{ filtersOpen ? 'Fewer filters' : 'More filters' }}
      </button>
      <div class="folding">
        <v-select v-model="types" :items="typeChoices" label="Type" multiple clearable>
          <template #selection="{ item, index }">
            <span v-if="index === 0">{{
              types.length > 1 ? `${types.length} types` : item.title
            }}</span>
          </template>
        </v-select>
        <v-select v-model="stock" :items="stocks" label="Where" />
        <RangeFilter
          v-for="range in head?.ranges"
          :key="range.key"
          :range="range"
          :chosen="limits[range.key] ?? null"
          @choose="setRange(range.key, $event)"
        />
        <v-btn v-if="filtered" block @click="clear">Clear filters</v-btn>
      </div>
    </aside>

    <section class="shelf" aria-label="Shelf">
      <div class="bar">
        <p class="soft count" role="status">
          <template v-if="head">
            {{ count(head.shown) }} of {{ count(head.total) }} knives
            <span class="small links">
              <RouterLink to="/rack/claims">claims</RouterLink>
              <a :href="addressOf(`/api/rack.csv?${asTable}`)" download>table .csv</a>
              <PrintLabels
                :href="addressOf(`/api/rack/labels.pdf?${asTable}`)"
                text="labels .pdf"
              />
            </span>
          </template>
        </p>
        <v-select
          v-model="foodMix"
          :items="items(catalogue?.food_mixes)"
          label="Cutting ease for"
          class="sort"
        />
        <v-select v-model="sort" :items="items(catalogue?.sorts)" label="Sort by" class="sort" />
        <v-btn :aria-pressed="descending" @click="descending = !descending">
          {{ descending ? 'highest first' : 'lowest first' }}
        </v-btn>
        <WordSwitch v-model="view" legend="View" :choices="VIEWS" />
      </div>

      <StateNote
        v-if="!head || (error && !at(0))"
        :error="error"
        waiting="Taking the knives off the shelf to look at them…"
        :retry="again"
      />
      <div v-else-if="!head.total && !filtered" class="empty">
        <h2>The rack is empty</h2>
        <p>
          Measure the first knife at the <RouterLink to="/bench">Bench</RouterLink>, or
          <RouterLink to="/office/in">import a list</RouterLink> you have.
        </p>
      </div>
      <div v-else-if="!head.shown" class="empty">
        <h2>No knife matches these filters</h2>
        <p><v-btn @click="clear">Clear filters</v-btn></p>
      </div>
      <template v-else>
        <BehindNote :behind="head.behind" />
        <RackTable v-if="view === 'table'" :count="head.shown" :at="at" @point="point" @see="see" />
        <RackRails v-else :count="head.shown" :at="at" :span="span" @point="point" @see="see" />
        <p class="soft small">
          {{ view === 'rails' ? 'All knives at one scale, rail marks every 10 mm. ' : '' }}Months
          between stones include this shop’s trials.
        </p>
      </template>
    </section>
  </div>
</template>

<style scoped>
.rack {
  display: grid;
  grid-template-columns: 196px minmax(0, 1fr);
  gap: 24px;
}

.filters .folding {
  display: flex;
  flex-direction: column;
  gap: 10px;
  margin-top: 10px;
}

.more {
  display: none;
}

.bar {
  display: flex;
  align-items: center;
  gap: 10px;
  margin-bottom: 8px;
}

.bar .count {
  flex: 1 1 0;
  min-width: 0;
  margin: 0;
}

.links {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
}

.bar > :not(.count) {
  flex: none;
}

.sort {
  width: 190px;
}

@media (min-width: 700px) {
  .bar {
    position: sticky;
    top: var(--v-layout-top, 68px);
    z-index: 2;
    margin: 0;
    padding: 12px 0 6px;
    background: var(--ground);
  }

  .filters {
    position: sticky;
    align-self: start;
    top: var(--v-layout-top, 68px);
    max-height: calc(100vh - var(--v-layout-top, 68px));
    padding: 12px 0;
    overflow-y: auto;
    scrollbar-width: thin;
  }
}

@media (max-width: 699px) {
  .rack {
    grid-template-columns: minmax(0, 1fr);
    gap: 10px;
  }

  .more {
    display: block;
    padding-top: 6px;
  }

  .filters:not(.open) .folding {
    display: none;
  }

  .bar {
    flex-wrap: wrap;
  }

  .bar .count {
    flex-basis: 100%;
  }
}
</style>
