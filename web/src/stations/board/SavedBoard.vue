<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { api, data } from '@/api/client'
import type { FigureOut, ThenAndNow } from '@/api/schema'
import { startFrom } from '@/parts/profile'
import { kitchen } from '@/parts/kitchen'
import { meanText, ratioText, unitText } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import { mark } from '@/parts/letters'
import { useHand } from '@/strip/store'
import { dayText } from '@/parts/moments'

/** A saved comparison: the numbers of its day beside today's, what moved first. */
const props = defineProps<{ comparisonId: number }>()

const hand = useHand()
const router = useRouter()
const query = useQuery({
  queryKey: computed(() => ['saved-board', props.comparisonId]),
  queryFn: () =>
    data(
      api.GET('/api/board/saved/{comparison_id}', {
        params: { path: { comparison_id: props.comparisonId } },
      }),
    ),
})
const saved = computed(() => query.data.value)
const marks = computed(() => (saved.value?.comparison.knives ?? []).map((_, i) => mark(i)))
const day = computed(() => dayText(saved.value?.comparison.recorded_at ?? ''))
const moved = computed(() => saved.value?.rows.filter((row) => row.moved).length ?? 0)
const sameVerdict = computed(
  () =>
    JSON.stringify(saved.value?.verdict_then.map((s) => s.text)) ===
    JSON.stringify(saved.value?.verdict_today.map((s) => s.text)),
)
const shown = (row: ThenAndNow, figure: FigureOut | null | undefined) => {
  if (!figure) return 'n. m.'
  return row.key === 'asymmetry' ? ratioText(figure.mean) : meanText(figure)
}
const other = (row: ThenAndNow, i: number) =>
  shown(row, row.today[i]) === shown(row, row.then[i]) ? '' : shown(row, row.today[i])

/** Its knives take the place of those on the strip, which the browser's "back" brings again. */
function lay(): void {
  const asked = saved.value?.asked
  if (!asked) return
  if (asked.profile) startFrom(asked.profile)
  kitchen.edge = asked.edge ?? kitchen.edge
  kitchen.basis = asked.basis ?? kitchen.basis
  const models = asked.models ? { models: 'yes' } : {}
  void router.push({ path: '/board', query: { hand: asked.pieces.join('.'), ...models } })
  hand.ids = [...asked.pieces]
}
</script>

<template>
  <StateNote
    v-if="!saved"
    :error="query.error.value"
    waiting="Fetching the numbers of that day…"
    :retry="() => query.refetch()"
  />
  <template v-else>
    <h2>{{ saved.comparison.name }}</h2>
    <p>
      Saved on {{ day }} by {{ saved.comparison.person }} for {{ saved.comparison.customer
      }}<template v-if="saved.asked.models">, models with their spread from piece to piece</template
      >.
      <template v-if="saved.comparison.away"> It is archived.</template>
    </p>
    <ul class="knives">
      <li v-for="(name, i) in saved.comparison.knives" :key="name">
        <b :style="{ color: marks[i]?.colour }">{{ name.slice(0, 1) }}</b> {{ name.slice(2) }}
      </li>
    </ul>
    <p class="no-print actions">
      <v-btn @click="lay">Open on the Board</v-btn>
      <RouterLink to="/board/saved">saved comparisons</RouterLink>
    </p>
    <section class="verdicts">
      <div>
        <h3>Verdict when saved</h3>
        <p v-for="s in saved.verdict_then" :key="s.text" class="serif">{{ s.text }}</p>
      </div>
      <div>
        <h3>Verdict today</h3>
        <p v-if="sameVerdict" class="soft">The same, word for word.</p>
        <p v-for="s in sameVerdict ? [] : saved.verdict_today" :key="s.text" class="serif">
          {{ s.text }}
        </p>
      </div>
    </section>
    <h3>
      Figures when saved<template v-if="moved">, {{ moved }} changed since</template
      ><template v-else>, none has changed</template>
    </h3>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th>quantity</th>
            <template v-for="m in marks" :key="m.letter">
              <th class="number" :style="{ color: m.colour }">{{ m.letter }} then</th>
              <th class="number" :style="{ color: m.colour }">today</th>
            </template>
            <th>unit</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in saved.rows" :key="row.key">
            <td>
              {{ row.label }}
              <span v-if="row.moved" class="rust small">⚠ changed by more than U</span>
            </td>
            <template v-for="(m, i) in marks" :key="m.letter">
              <td class="number" :class="`grade-${row.grade}`">{{ shown(row, row.then[i]) }}</td>
              <td class="number" :class="other(row, i) ? 'changed' : 'soft'">
                {{ other(row, i) || '=' }}
              </td>
            </template>
            <td class="unit">{{ unitText(row.unit) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="soft small">
      = means unchanged. Predictions can change with new readings, trials, coefficients or models;
      readings of that day stay in the history of each Sheet.
    </p>
  </template>
</template>

<style scoped>
p {
  margin: 2px 0;
}

.knives {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 22px;
  margin: 4px 0;
  padding: 0;
}

.actions {
  display: flex;
  align-items: center;
  gap: 20px;
  margin: 8px 0;
}

.verdicts {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 32px;
  margin: 12px 0 18px;
}

.serif {
  font-family: var(--serif);
}

table {
  width: auto;
  min-width: 560px;
}

td.number {
  min-width: 88px;
}

.changed {
  font-weight: 600;
}

@media (max-width: 699px) {
  .verdicts {
    grid-template-columns: 1fr;
  }
}
</style>
