<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { computed, ref } from 'vue'
import type { VerdictOut } from '@/api/schema'
import { simulationsText } from '@/parts/numbers'
import type { KnifeMark } from '@/parts/letters'
import { evidenceId } from './evidence'

/** How each knife suits the customer: the score, and each criterion with what it stands on. */
const props = defineProps<{ verdict: VerdictOut; marks: KnifeMark[] }>()

const percent = (share: number) => Math.round(100 * share)
const rows = computed(() =>
  [...props.verdict.weights]
    .sort((a, b) => b.share - a.share)
    .map((w) => ({
      ...w,
      cells: props.verdict.knives.map((k) => k.criteria.find((c) => c.criterion === w.criterion)),
    })),
)
/** Criteria by which no two of the knives differ by so much are folded away. */
const ALIKE = 0.05
const alike = (row: (typeof rows.value)[number]) => {
  const known = row.cells.flatMap((c) => (c ? [c.desirability] : []))
  return known.length > 1 && Math.max(...known) - Math.min(...known) < ALIKE
}
const apart = computed(() => rows.value.filter((row) => !alike(row)))
const same = computed(() => rows.value.filter(alike))
const unfolded = ref(false)
const shown = computed(() => (unfolded.value ? rows.value : apart.value))
const out = computed(() =>
  props.verdict.knives.flatMap((k, i) => {
    const mark = props.marks[i]
    return k.reasons.length && mark ? [{ mark, reasons: k.reasons }] : []
  }),
)
</script>

<template>
  <div class="scroll">
    <table :class="{ many: marks.length > 3 }">
      <thead>
        <tr>
          <th>criterion</th>
          <th class="number">counts</th>
          <th v-for="m in marks" :key="m.letter" :style="{ color: m.colour }">{{ m.letter }}</th>
        </tr>
      </thead>
      <tbody>
        <tr :id="evidenceId('score')" class="whole">
          <td>suits, of 100</td>
          <td class="number"></td>
          <td v-for="(k, i) in verdict.knives" :key="i">
            <template v-if="k.score && k.first !== null">
              <b>{{ percent(k.score[0] ?? 0) }}</b>
              <span class="soft small">
                {{ percent(k.score[1] ?? 0) }} to {{ percent(k.score[2] ?? 0) }}
              </span>
              <div class="small">
                best in {{ simulationsText(k.first) }}
                <span v-if="k.tied" class="grade-G">tie</span>
              </div>
            </template>
            <span v-else class="rust">⚠ ruled out</span>
          </td>
        </tr>
        <tr
          v-for="row in shown"
          :id="evidenceId(`criterion.${row.criterion}`)"
          :key="row.criterion"
        >
          <td>
            {{ labelOf('Criterion', row.criterion) }}
            <span v-if="row.criterion === verdict.deciding" class="small grade-P">decides</span>
          </td>
          <td class="number soft">{{ percent(row.share) }} %</td>
          <td v-for="(cell, i) in row.cells" :key="i">
            <template v-if="cell">
              <span class="bar">
                <span class="number">{{ percent(cell.desirability) }}</span>
                <svg viewBox="0 0 100 6" preserveAspectRatio="none" aria-hidden="true">
                  <line x1="0" x2="100" y1="3" y2="3" />
                  <rect
                    y="0"
                    height="6"
                    :width="100 * cell.desirability"
                    :style="{ fill: marks[i]?.colour }"
                  />
                </svg>
              </span>
              <span class="small soft">{{ cell.stands_on }}</span>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="same.length" class="small">
    <button
      type="button"
      class="plain alike"
      :aria-expanded="unfolded"
      @click="unfolded = !unfolded"
    >
      {{ unfolded ? '▾ Hide what is alike' : '▸ Alike' }}
    </button>
    <span v-if="!unfolded" class="soft"
      >: {{ same.map((row) => labelOf('Criterion', row.criterion)).join(', ') }}</span
    >
  </p>
  <p v-for="o in out" :id="evidenceId(`stop.${o.mark.letter}`)" :key="o.mark.letter" class="rust">
    ⚠ <b :style="{ color: o.mark.colour }">{{ o.mark.letter }}</b> ruled out:
    {{ o.reasons.join(' ') }}
  </p>
</template>

<style scoped>
table:not(.many) {
  max-width: 900px;
}

td {
  line-height: 1.25;
  min-width: 104px;
}

td:first-child {
  min-width: 120px;
}

td.number {
  min-width: 0;
}

.bar {
  display: grid;
  grid-template-columns: 24px minmax(40px, 1fr);
  gap: 6px;
  align-items: center;
}

.whole b {
  margin-right: 6px;
}

.bar svg {
  width: 100%;
  height: 6px;
}

.bar line {
  stroke: var(--hairline);
}

p {
  margin: 4px 0 0;
}

@media (max-width: 699px) {
  th.number,
  td.number {
    display: none;
  }

  td {
    min-width: 92px;
  }

  td:first-child {
    min-width: 78px;
  }
}
</style>
