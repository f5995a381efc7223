<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, reactive, ref, watch } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import type { EaseOut, Grind, KnifeSheetOut, WhatIfIn, WhatIfRow } from '@/api/schema'
import BladeSection from '@/drawings/BladeSection.vue'
import { kitchen } from '@/parts/kitchen'
import { likelyText, rangeText, rounded, unitText } from '@/parts/numbers'

/** Drag figures and watch force, edge life and stiffness move against the measured knife. */
const AngleChart = defineAsyncComponent(() => import('./AngleChart.vue'))
const props = defineProps<{ sheet: KnifeSheetOut; ease: EaseOut | undefined }>()

type Tried = 'edge_angle' | 'thickness_behind_edge' | 'spine_heel'
interface Slider {
  key: Tried
  label: string
  unit: string
  decimals: number
  from: number
  to: number
  step: number
}

const { catalogue, grindLabel } = useCatalogue()
const start = computed<Partial<Record<Tried, number>>>(() => {
  const f = props.sheet.figures
  return {
    edge_angle: f.edge_angle?.mean,
    thickness_behind_edge: f.thickness_behind_edge?.mean,
    spine_heel: f.spine_heel?.mean,
  }
})
const sliders = computed<Slider[]>(() => {
  const spine = start.value.spine_heel ?? 2
  const behind = start.value.thickness_behind_edge ?? 0.3
  const all: Slider[] = [
    {
      key: 'edge_angle',
      label: 'edge angle',
      unit: '° per side',
      decimals: 1,
      from: 8,
      to: 25,
      step: 0.5,
    },
    {
      key: 'thickness_behind_edge',
      label: 'behind the edge',
      unit: ' mm',
      decimals: 2,
      from: 0.05,
      to: Math.max(0.8, behind * 1.5),
      step: 0.01,
    },
    {
      key: 'spine_heel',
      label: 'spine at heel',
      unit: ' mm',
      decimals: 2,
      from: spine * 0.6,
      to: spine * 1.5,
      step: 0.02,
    },
  ]
  return all.filter((s) => start.value[s.key] !== undefined)
})
const tried = reactive<Partial<Record<Tried, number>>>({})
const grind = ref<Grind>(props.sheet.piece.grind as Grind)

function back(): void {
  for (const key of Object.keys(tried) as Tried[]) delete tried[key]
  grind.value = props.sheet.piece.grind as Grind
}
watch(() => props.sheet.piece.id, back)

const asked = ref<WhatIfIn | null>(null)
let wait: ReturnType<typeof setTimeout> | undefined
watch([tried, grind], () => {
  clearTimeout(wait)
  wait = setTimeout(() => {
    const body: WhatIfIn = { ...tried }
    if (grind.value !== props.sheet.piece.grind) body.grind = grind.value
    asked.value = Object.keys(body).length ? body : null
  }, 60)
})

const result = useQuery({
  queryKey: computed(() => ['what-if', props.sheet.piece.id, asked.value, { ...kitchen }]),
  enabled: computed(() => asked.value !== null),
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () =>
    data(
      api.POST('/api/pieces/{piece_id}/what-if', {
        params: { path: { piece_id: props.sheet.piece.id }, query: { ...kitchen } },
        body: asked.value ?? {},
      }),
    ),
})
const shown = computed(() => (asked.value && !result.error.value ? result.data.value : undefined))
const sections = computed(() => {
  const both = [
    { polygon: shown.value?.section_measured, style: quiet },
    { polygon: shown.value?.section_tried, style: loud },
  ]
  return both.flatMap((s) => (s.polygon ? [{ polygon: s.polygon, style: s.style }] : []))
})
const quiet = { letter: '', colour: 'var(--soft-ink)', dash: '4 3', echarts: 'dashed' }
const loud = { letter: '', colour: 'var(--predicted)', dash: '', echarts: 'solid' }

function leans(row: WhatIfRow): string {
  if (row.percent === null || Math.abs(row.percent) < 1 || row.better === 'neither') return ''
  return row.percent > 0 === (row.better === 'higher') ? 'better' : 'worse'
}
function signed(percent: number): string {
  const text = rounded(percent, 0)
  return `${percent > 0 && text !== '0' ? '+' : ''}${text} %`
}
</script>

<template>
  <section class="what-if" aria-label="What if">
    <h2>What if</h2>
    <p class="soft small">
      Drag a figure and compare with the knife as measured. Nothing is stored.
    </p>
    <div class="pair">
      <div class="controls">
        <label v-for="s in sliders" :key="s.key" class="slider">
          <span>
            {{ s.label }}
            <b>{{ rounded(tried[s.key] ?? start[s.key] ?? 0, s.decimals) }}{{ s.unit }}</b>
            <span v-if="tried[s.key] !== undefined" class="soft small">
              measured {{ rounded(start[s.key] ?? 0, s.decimals) }}
            </span>
          </span>
          <input
            type="range"
            :min="s.from"
            :max="s.to"
            :step="s.step"
            :value="tried[s.key] ?? start[s.key]"
            :aria-label="s.label"
            @input="tried[s.key] = Number(($event.target as HTMLInputElement).value)"
          />
        </label>
        <label class="slider">
          <span>
            grind
            <span v-if="grind !== sheet.piece.grind" class="soft small">
              as found {{ grindLabel(sheet.piece.grind) }}
            </span>
          </span>
          <select v-model="grind" aria-label="grind">
            <option v-for="g in catalogue?.grinds" :key="g.key" :value="g.key">
              {{ g.label }}
            </option>
          </select>
        </label>
        <v-btn :disabled="asked === null" @click="back">Back to measured</v-btn>
        <figure v-if="ease?.by_angle.length && start.edge_angle !== undefined">
          <AngleChart :ease="ease" :measured="start.edge_angle" :tried="tried.edge_angle" />
          <figcaption class="small soft">The edge angle alone; all else as measured</figcaption>
        </figure>
        <figure v-if="sections.length">
          <BladeSection :sections="sections" />
          <figcaption class="small soft">
            Dashed as measured, drawn out as tried; thickness × 4
          </figcaption>
        </figure>
      </div>
      <div>
        <p v-if="result.error.value && asked" class="rust" role="alert">
          ⚠ {{ result.error.value.message }}
        </p>
        <p v-else-if="shown" class="said">{{ shown.words.join(' ') }}</p>
        <table v-if="shown">
          <thead>
            <tr>
              <th>predicted</th>
              <th class="number">as measured</th>
              <th class="number">as tried</th>
              <th class="number">likely</th>
              <th class="number">change</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in shown.rows" :key="row.key">
              <td>
                {{ row.label }}
                <span class="unit">{{ unitText(row.unit) }}</span>
              </td>
              <td class="number soft">{{ row.measured ? rangeText(row.measured) : '–' }}</td>
              <td v-if="row.tried" class="number">{{ rangeText(row.tried) }}</td>
              <td v-if="row.tried" class="number">{{ likelyText(row.tried) }}</td>
              <td v-if="!row.tried" colspan="2" class="soft small">{{ row.why }}</td>
              <td class="number" :class="leans(row)">
                <template v-if="row.percent !== null">
                  <span v-if="leans(row)" aria-hidden="true">{{
                    leans(row) === 'better' ? '▲' : '▽'
                  }}</span>
                  {{ signed(row.percent) }}
                  <span class="visually-hidden">{{ leans(row) }}</span>
                </template>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-else-if="!asked || !result.error.value" class="soft">
          Move a slider: force in each food, ease, edge life, flex, mass and release appear here,
          each beside its value as measured.
        </p>
        <p v-if="shown" class="small soft">
          Per cent of the value as measured. ▲ easier or longer, ▽ harder or shorter. Another spine
          keeps the taper in proportion; another grind takes its family's usual curve.
        </p>
      </div>
    </div>
  </section>
</template>

<style scoped>
.what-if {
  margin-top: 18px;
}

.pair {
  display: grid;
  grid-template-columns: minmax(0, 4fr) minmax(0, 8fr);
  gap: 32px;
  align-items: start;
}

.slider {
  display: block;
  margin-bottom: 10px;
}

.slider input,
.slider select {
  display: block;
  width: 100%;
  accent-color: var(--predicted);
}

figure {
  margin: 12px 0 0;
}

.better {
  color: var(--measured);
}

.worse {
  color: var(--rust);
}

@media (max-width: 699px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
    gap: 12px;
  }
}
</style>
