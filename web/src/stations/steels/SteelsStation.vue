<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, data } from '@/api/client'
import type { SteelsOut } from '@/api/schema'
import { rounded, shareText } from '@/parts/numbers'
import { settled } from '@/parts/settled'
import StateNote from '@/parts/StateNote.vue'
import GradeTable from './GradeTable.vue'
import HardnessChart from './HardnessChart.vue'
import OwnGrade from './OwnGrade.vue'

/** Grades by standard designation: what they are made of and what that means for an edge. */
const search = ref('')
const looked = settled(search)
const steels = useQuery({
  queryKey: computed(() => ['steels', looked.value]),
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () =>
    data(api.GET('/api/steels', { params: { query: { search: looked.value.trim() } } })),
})
/** What was found last stays while a search is being corrected. */
const found = shallowRef<SteelsOut>()
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
const limits = ([low = 0, high = 0]: number[]) =>
  low === high ? shareText(low) : `${shareText(low)} to ${shareText(high)}`

function kept(designation: string): void {
  entering.value = false
  search.value = looked.value = ''
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
      <GradeTable :grades="found.grades" :chosen="grade?.designation" @choose="chosen = $event" />
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

td {
  white-space: nowrap;
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
