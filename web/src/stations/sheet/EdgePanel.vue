<script setup lang="ts">
import { computed } from 'vue'
import { labelOf, useCatalogue } from '@/api/catalogue'
import type { KnifeSheetOut } from '@/api/schema'
import SawTooth from '@/drawings/SawTooth.vue'
import { likelyText, rangeText, rounded } from '@/parts/numbers'

/** How the edge fares over half a year in this kitchen, and what it bears. */
const props = defineProps<{ sheet: KnifeSheetOut }>()

const { catalogue } = useCatalogue()
const cards = computed(() =>
  ['edge_life', 'stability'].flatMap((key) => catalogue.value?.cards[key] ?? []),
)
const life = computed(() => props.sheet.edge_life)
/** The likely interval as the table of predictions has it. */
const every = (key: string) => {
  const p = props.sheet.predictions.find((one) => one.key === key)
  if (!p || p.central === null || p.low === null || p.high === null) return ''
  return `${likelyText({ central: p.central, low: p.low, high: p.high })} ${p.unit}`
}
const levers = computed(() =>
  (props.sheet.stability?.levers ?? [])
    .map((lever) => `${lever.label} +${rounded(100 * lever.gain, 0)} %`)
    .join(' · '),
)
const range = ([, low = 0, high = 0]: number[]) => rangeText({ low, high })
</script>

<template>
  <section class="edge" aria-label="Edge life and stability">
    <h2>The edge in this kitchen</h2>
    <div class="pair">
      <div>
        <template v-if="life.sharpness.length">
          <SawTooth :lines="[{ life }]" />
          <p class="small soft">
            Sharpness, 100 fresh from the stone; likely course,
            {{ labelOf('Routine', life.routine) }}:
            <template v-if="life.rod_every_days">
              a rod every {{ every('days_to_rod') }},
            </template>
            a stone every {{ every('months_to_stone') }} (▲). {{ life.why }} Grade P: the intervals
            are in the table above; a paper cut today says nothing about this.
          </p>
        </template>
        <p v-else class="soft">No course of sharpness: {{ life.why }}</p>
      </div>
      <div v-if="sheet.stability">
        <table>
          <thead>
            <tr>
              <th>load borne over the stroke's load</th>
              <th class="number">before it rolls</th>
              <th v-if="sheet.stability.margins[0]?.chip" class="number">before it chips</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="m in sheet.stability.margins" :key="m.style">
              <td>{{ labelOf('StrokeStyle', m.style) }}</td>
              <td class="number">{{ range(m.roll) }}</td>
              <td v-if="m.chip" class="number">{{ range(m.chip) }}</td>
              <td :class="m.words === 'holds' ? 'soft' : 'rust'">
                {{ m.words === 'holds' ? '' : '⚠ ' }}{{ m.words }}
              </td>
            </tr>
          </tbody>
        </table>
        <p>{{ sheet.stability.lesson }}</p>
        <p class="small soft">
          {{ levers }}. Times the load, 90 % interval, grade P: loads and toughness are practice
          rules. Thin hard edges: no bone, no frozen food, no prying, no twist.
        </p>
      </div>
    </div>
    <details v-if="cards.length" class="small soft">
      <summary>How this is worked out</summary>
      <p v-for="card in cards" :key="card.key">
        <b>{{ card.name }}</b> ({{ card.grade }}, {{ card.grade_label }}): {{ card.equation }}.
        {{ card.source }} Valid: {{ card.valid }} {{ card.assumptions.join(' ') }}
      </p>
    </details>
  </section>
</template>

<style scoped>
.edge {
  margin-top: 18px;
}

.pair {
  display: grid;
  grid-template-columns: minmax(0, 6fr) minmax(0, 6fr);
  gap: 8px 32px;
  align-items: start;
}

@media (max-width: 699px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
