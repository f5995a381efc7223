<script setup lang="ts">
import { LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { LabelLayout } from 'echarts/features'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import { chartStyle, colour } from '@/parts/chart'
import ChartFigure from '@/parts/ChartFigure.vue'
import { rounded } from '@/parts/numbers'
import { MARKS } from '@/parts/letters'

interface Point {
  /** What its shape stands for. */
  kind: string
  tag: string
  predicted: number
  expected: number
  observed: number
}
/**
 * Observed against predicted, a point a knife. Calibrated: each as all other knives predict it, so
 * that no trial predicts itself.
 */
const props = defineProps<{ rows: Point[]; unit: string; calibrated: boolean }>()

use([LineChart, ScatterChart, GridComponent, TooltipComponent, LabelLayout, SVGRenderer])

/** A shape for each kind in a box of ten, since no kind is told by its hue alone. */
const SHAPES = [
  'M5 0A5 5 0 1 1 5 10A5 5 0 1 1 5 0Z',
  'M0.5 0.5H9.5V9.5H0.5Z',
  'M5 0L10 9.5H0Z',
  'M5 -0.5L10.5 5L5 10.5L-0.5 5Z',
  'M3.4 0H6.6V3.4H10V6.6H6.6V10H3.4V6.6H0V3.4H3.4Z',
  'M0 0.5H10L5 10Z',
]
const shape = (i: number) => SHAPES[i % SHAPES.length] ?? ''
const of = (row: Point) => (props.calibrated ? row.expected : row.predicted)
const option = computed(() => {
  const { axis: quiet, whole, tooltip } = chartStyle()
  const values = props.rows.flatMap((r) => [of(r), r.observed])
  const low = 0.8 * Math.min(...values)
  const high = 1.25 * Math.max(...values)
  const places = high > 20 ? 0 : 1
  const axis = {
    ...quiet,
    type: 'log' as const,
    min: low,
    max: high,
    axisLabel: {
      ...quiet.axisLabel,
      showMinLabel: false,
      showMaxLabel: false,
      formatter: (value: number) => rounded(value, places),
    },
    splitLine: { show: false },
    logBase: 2,
  }
  const kinds = [...new Set(props.rows.map((r) => r.kind))]
  const soft = colour('--soft-ink')
  return {
    ...whole,
    grid: { left: 54, right: 16, top: 10, bottom: 40 },
    tooltip: {
      ...tooltip,
      trigger: 'item' as const,
      formatter: (at: { value: [number, number, string] }) =>
        `${at.value[2]}: predicted ${rounded(at.value[0], places)}, observed ${rounded(at.value[1], places)} ${props.unit}`,
    },
    xAxis: { ...axis, name: `predicted, ${props.unit}`, nameGap: 26 },
    yAxis: { ...axis, name: `observed, ${props.unit}`, nameGap: 38 },
    series: [
      {
        type: 'line' as const,
        data: [
          [low, low],
          [high, high],
        ],
        showSymbol: false,
        silent: true,
        tooltip: { show: false },
        lineStyle: { color: soft, width: 1, type: [5, 4] },
      },
      ...kinds.map((kind, i) => ({
        type: 'scatter' as const,
        name: kind,
        data: props.rows
          .filter((r) => r.kind === kind)
          .map((r) => ({
            value: [of(r), r.observed, r.tag],
            label: { position: r.observed > of(r) ? ('left' as const) : ('right' as const) },
          })),
        symbol: `path://${shape(i)}`,
        symbolSize: 10,
        itemStyle: { color: colour(MARKS[i % MARKS.length]?.colour ?? '--ink') },
        label: {
          show: true,
          color: soft,
          fontSize: 12,
          formatter: (at: { value: [number, number, string] }) => at.value[2],
        },
        labelLayout: { hideOverlap: true },
      })),
    ],
  }
})
const kinds = computed(() => [...new Set(props.rows.map((r) => r.kind))])
</script>

<template>
  <div>
    <ChartFigure
      class="chart"
      :option="option"
      :name="`Observed against predicted, ${calibrated ? 'calibrated' : 'published'}`"
    />
    <p class="small soft">
      <span v-for="(kind, i) in kinds" :key="kind" class="key">
        <svg viewBox="-1 -1 12 12" aria-hidden="true">
          <path :d="shape(i)" :fill="MARKS[i % MARKS.length]?.colour" />
        </svg>
        {{ kind }}
      </span>
    </p>
  </div>
</template>

<style scoped>
.chart {
  height: 340px;
}

.key svg {
  width: 11px;
  height: 11px;
}

.key {
  display: inline-block;
  margin-right: 14px;
}

p {
  margin: 0;
}
</style>
