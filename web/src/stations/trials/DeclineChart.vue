<script setup lang="ts">
import { LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import type { WholeTrial } from '@/api/schema'
import { chartStyle, colour, endOffsets, wholeTop } from '@/parts/chart'
import ChartFigure from '@/parts/ChartFigure.vue'
import type { KnifeMark } from '@/parts/letters'

/** Readings as points and the better fit as a line, one hue and pattern a trial. */
const props = defineProps<{ trials: WholeTrial[]; marks: KnifeMark[] }>()

use([LineChart, ScatterChart, GridComponent, TooltipComponent, SVGRenderer])

/** The chart's height without what is above and below the plot. */
const PLOT_PX = 270 - 14 - 38
const SYMBOLS = ['circle', 'rect', 'triangle', 'diamond', 'pin', 'arrow']
const option = computed(() => {
  const { axis: quiet, whole, tooltip } = chartStyle()
  const axis = { ...quiet, type: 'value' as const }
  const [first] = props.trials
  const curves = props.trials.map((trial) => trial.fits[0]?.curve ?? [])
  const top = wholeTop(
    Math.max(
      ...props.trials.flatMap((trial) => trial.series.map((p) => p.value ?? 0)),
      ...curves.flatMap((curve) => curve.map(([, value]) => value ?? 0)),
    ),
  )
  const ends = curves.map((curve) => curve.at(-1)?.[1] ?? 0)
  const down = endOffsets(ends, top, PLOT_PX)
  return {
    ...whole,
    grid: { left: 52, right: 74, top: 14, bottom: 38 },
    tooltip: {
      ...tooltip,
      trigger: 'item' as const,
      valueFormatter: (value: unknown) => String(value),
    },
    xAxis: { ...axis, name: first?.x_label ?? '', nameGap: 24, min: 0, splitLine: { show: false } },
    yAxis: { ...axis, name: first?.value_label ?? '', nameGap: 34, min: 0, max: top },
    series: props.trials.flatMap((trial, i) => {
      const again = props.trials.some((t) => t !== trial && t.tag === trial.tag)
      const name = again ? `${trial.tag} ${trial.started_at.slice(5, 10)}` : trial.tag
      const style = props.marks[i]
      if (!style) return []
      const hue = colour(style.colour)
      const points = {
        type: 'scatter' as const,
        name,
        data: trial.series.filter((p) => p.value !== null).map((p) => [p.x, p.value]),
        symbol: SYMBOLS[i % SYMBOLS.length],
        symbolSize: 6,
        itemStyle: { color: 'transparent', borderColor: hue, borderWidth: 1.2 },
      }
      const [fit] = trial.fits
      if (!fit) return [points]
      return [
        points,
        {
          type: 'line' as const,
          name: `${name}, ${fit.form}`,
          data: fit.curve,
          showSymbol: false,
          color: hue,
          lineStyle: { width: 2, type: style.echarts },
          endLabel: { show: true, formatter: name, color: hue, offset: [0, down[i] ?? 0] },
        },
      ]
    }),
  }
})
</script>

<template>
  <ChartFigure class="chart" :option="option" name="Decline of the edge" />
</template>

<style scoped>
.chart {
  height: 270px;
}
</style>
