<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import type { SteelsOut } from '@/api/schema'
import { rounded } from '@/parts/numbers'

/** Rockwell C against Vickers with the bands of the trade, and a converter. */
const props = defineProps<{ steels: SteelsOut }>()

const WIDE = 380
const TALL = 190
const typed = ref('60')
const SCALES = [
  { value: 'HRC', title: 'HRC' },
  { value: 'HV', title: 'HV' },
  { value: 'mm', title: 'depth, mm' },
]
const unit = ref<'HRC' | 'HV' | 'mm'>('HRC')
const value = computed(() => Number(typed.value.trim().replace(',', '.') || NaN))
const found = useQuery({
  queryKey: computed(() => ['hardness', value.value, unit.value]),
  enabled: computed(() => Number.isFinite(value.value)),
  retry: false,
  queryFn: () =>
    data(
      api.GET('/api/steels/hardness', {
        params: { query: { value: value.value, unit: unit.value } },
      }),
    ),
})
const x = (hrc: number) => ((hrc - 20) / 48) * WIDE
const y = (hv: number) => TALL - ((hv - 200) / 750) * TALL
const line = computed(
  () =>
    `M${props.steels.conversion.map(([hrc, hv]) => `${x(hrc ?? 0).toFixed(1)} ${y(hv ?? 0).toFixed(1)}`).join('L')}`,
)
</script>

<template>
  <section aria-label="Hardness">
    <h2>Hardness</h2>
    <div class="converter">
      <v-text-field v-model="typed" label="hardness" inputmode="decimal" />
      <v-select v-model="unit" :items="SCALES" label="scale" />
    </div>
    <div class="answer">
      <p v-if="found.error.value" class="rust" role="alert">⚠ {{ found.error.value.message }}</p>
      <p v-else-if="found.data.value" role="status">
        <b>{{ rounded(found.data.value.hrc, 1) }} HRC</b> =
        <b>{{ rounded(found.data.value.hv, 0) }} HV</b>, yields at
        {{ rounded(found.data.value.strength_mpa, -1) }} MPa,
        <template v-if="found.data.value.tensile_mpa !== null">
          breaks in tension at about {{ rounded(found.data.value.tensile_mpa, -1) }} MPa,
        </template>
        needs at least {{ rounded(found.data.value.minimum_thickness_mm, 2) }} mm under the cone.
        {{
          found.data.value.bands.length
            ? `The trade calls it ${found.data.value.bands.join(', or ')}.`
            : 'Between the bands of the trade.'
        }}
      </p>
    </div>
    <svg
      :viewBox="`-40 -8 ${WIDE + 72} ${TALL + 34 + 14 * steels.bands.length}`"
      role="img"
      aria-label="Rockwell C against Vickers"
    >
      <g class="grid">
        <template v-for="hv in [200, 400, 600, 800]" :key="hv">
          <line x1="0" :x2="WIDE" :y1="y(hv)" :y2="y(hv)" />
          <text x="-5" :y="y(hv) + 4" text-anchor="end">{{ hv }}</text>
        </template>
        <text
          v-for="hrc in [20, 30, 40, 50, 60]"
          :key="hrc"
          :x="x(hrc)"
          :y="TALL + 14"
          text-anchor="middle"
        >
          {{ hrc }}
        </text>
        <text x="-5" y="-1" text-anchor="end">HV</text>
        <text :x="WIDE" :y="TALL + 14" text-anchor="end">HRC</text>
      </g>
      <path :d="line" class="curve" />
      <g v-if="found.data.value" class="point">
        <line
          :x1="x(found.data.value.hrc)"
          :x2="x(found.data.value.hrc)"
          :y1="y(found.data.value.hv)"
          :y2="TALL + 20 + 14 * steels.bands.length"
        />
        <circle :cx="x(found.data.value.hrc)" :cy="y(found.data.value.hv)" r="3.5" />
      </g>
      <g v-for="(band, i) in steels.bands" :key="band.words" class="band">
        <line
          :x1="x(band.low)"
          :x2="x(band.high)"
          :y1="TALL + 28 + 14 * i"
          :y2="TALL + 28 + 14 * i"
        />
        <text :x="x(band.low) - 5" :y="TALL + 32 + 14 * i" text-anchor="end">
          {{ band.low > 40 ? band.words : '' }}
        </text>
        <text v-if="band.low <= 40" :x="x(band.high) + 5" :y="TALL + 32 + 14 * i">
          {{ band.words }}
        </text>
      </g>
    </svg>
    <p class="small soft">{{ steels.conversion_source }}. Bands are common practice.</p>
  </section>
</template>

<style scoped>
.converter {
  margin-top: 14px;
  display: flex;
  gap: 10px;
}

.converter > * {
  max-width: 130px;
}

/* Of the usual length: the chart stays where it is while one types. */
.answer {
  min-height: 92px;
}

svg {
  display: block;
  width: 100%;
  max-width: 480px;
}

.grid line {
  stroke: var(--hairline);
  stroke-width: 1;
}

text {
  font: 11px var(--sans);
  fill: var(--soft-ink);
}

.curve {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}

.point line {
  stroke: var(--measured);
  stroke-dasharray: 3 3;
}

.point circle {
  fill: var(--measured);
}

.band text {
  paint-order: stroke;
  stroke: var(--ground);
  stroke-width: 4px;
}

.band line {
  stroke: var(--derived);
  stroke-width: 5;
}
</style>
