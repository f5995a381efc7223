<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { GradeOut, SteelsOut } from '@/api/schema'
import { rounded } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import HardnessChart from './HardnessChart.vue'
import OwnGrade from './OwnGrade.vue'

/** Grades by standard designation: what they are made of and what that means for an edge. */
const search = ref('')
const steels = useQuery({
  queryKey: computed(() => ['steels', search.value]),
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () =>
    data(api.GET('/api/steels', { params: { query: { search: search.value.trim() } } })),
})
/** What was found last stays while a search is being mended. */
const found = ref<SteelsOut>()
watch(
  () => steels.data.value,
  (now) => {
    if (now) found.value = now
  },
  { immediate: true },
)
const chosen = ref<string | null>(null)
const entering = ref(false)
const grade = computed(
  () => found.value?.grades.find((g) => g.designation === chosen.value) ?? found.value?.grades[0],
)
const COLUMNS = ['C', 'Cr', 'Mo', 'V', 'W'] as const
const volume = (g: GradeOut) => g.carbides.carbides.reduce((sum, c) => sum + c.volume, 0)
const share = (value: number | undefined, element = '') =>
  value === undefined ? '' : rounded(value, value < 1 || element === 'C' ? 2 : 1)
const limits = ([low = 0, high = 0]: number[]) =>
  low === high ? share(low) : `${share(low)} to ${share(high)}`

function kept(designation: string): void {
  entering.value = false
  search.value = ''
  chosen.value = designation
}
</script>

<template>
  <StateNote
    v-if="!found"
    :error="steels.error.value"
    waiting="Fetching the grades…"
    :retry="() => steels.refetch()"
  />
  <div v-else class="steels">
    <section aria-label="Grades">
      <div class="find">
        <v-text-field
          v-model="search"
          label="Search"
          placeholder="stainless C>0.6 HRC>=58"
          clearable
          @click:clear="search = ''"
        />
        <v-btn @click="entering = !entering">Enter a grade</v-btn>
      </div>
      <p v-if="steels.error.value" class="rust" role="alert">⚠ {{ steels.error.value.message }}</p>
      <p v-else class="small soft">
        {{ found.grades.length }} of {{ found.total }} grades. A word, a class (<i>stainless</i>,
        <i>toughness:high</i>, <i>sharpening:easy</i>) or a condition: <i>Cr&gt;13</i>,
        <i>C&lt;=0.6</i>, <i>PREN&gt;20</i>, <i>MC&gt;2</i>, <i>HRC&gt;=62</i>.
      </p>
      <OwnGrade v-if="entering" :elements="found.elements" @kept="kept" @close="entering = false" />
      <div class="scroll">
        <table>
          <thead>
            <tr>
              <th>grade</th>
              <th v-for="element in COLUMNS" :key="element" class="number">{{ element }} %</th>
              <th class="number">carbides %</th>
              <th class="number">PREN</th>
              <th>reacts</th>
              <th class="number">usual HRC</th>
              <th>toughness</th>
              <th>sharpening</th>
              <th class="number">pieces</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="g in found.grades"
              :key="g.designation"
              :class="{ here: g.designation === grade?.designation }"
            >
              <td>
                <button type="button" class="plain pick" @click="chosen = g.designation">
                  <b>{{ g.designation }}</b>
                  <span v-if="g.name !== g.designation" class="soft small"> {{ g.name }}</span>
                  <span v-if="g.own" class="soft small"> your own</span>
                </button>
              </td>
              <td v-for="element in COLUMNS" :key="element" class="number">
                {{ share(g.composition[element], element) }}
              </td>
              <td class="number">{{ volume(g) ? rounded(volume(g), 1) : '–' }}</td>
              <td class="number">
                {{ g.reactivity === 'stainless' ? rounded(g.pren, 0) : '–' }}
              </td>
              <td>{{ labelOf('Reactivity', g.reactivity) }}</td>
              <td class="number">{{ g.usual_hrc.join(' to ') }}</td>
              <td>{{ g.toughness }}</td>
              <td>{{ g.sharpening }}</td>
              <td class="number">{{ g.pieces || '' }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="!found.grades.length" class="soft">
        No grade matches. Remove a condition, or enter a grade of your own.
      </p>
    </section>

    <aside>
      <section v-if="grade" aria-label="Grade">
        <h2>{{ grade.designation }}</h2>
        <p class="soft small">
          {{ grade.name === grade.designation ? '' : `${grade.name} · ` }}{{ grade.source }}
          <template v-if="grade.aliases.length"> · also {{ grade.aliases.join(', ') }}</template>
        </p>
        <table>
          <tbody>
            <tr v-for="(range, element) in grade.ranges" :key="element">
              <td>{{ element }}</td>
              <td class="number">{{ limits(range) }} %</td>
            </tr>
            <tr v-for="c in grade.carbides.carbides" :key="c.name">
              <td>
                {{ c.name }}
                <span class="soft small">adds {{ rounded(c.card_mm, 0) }} mm of card</span>
              </td>
              <td class="number">
                {{ rounded(c.volume, 1) }} ± {{ rounded(c.expanded, 1) }} vol %
              </td>
            </tr>
          </tbody>
        </table>
        <p class="small soft">Carbides: {{ grade.carbides.basis }}.</p>
      </section>
      <HardnessChart :steels="found" />
    </aside>
  </div>
</template>

<style scoped>
.steels {
  display: grid;
  grid-template-columns: minmax(0, 9fr) minmax(0, 4fr);
  gap: 24px;
  align-items: start;
}

.find {
  display: flex;
  gap: 12px;
  align-items: center;
}

.scroll td {
  padding-right: 6px;
}

.pick {
  text-align: left;
  white-space: nowrap;
}

.pick .small {
  margin-left: 6px;
}

td {
  white-space: nowrap;
}

.here td {
  background: var(--panel);
}

aside section + section {
  margin-top: 20px;
}

@media (max-width: 699px) {
  .steels {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
