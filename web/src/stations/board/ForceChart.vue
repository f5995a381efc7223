<script setup lang="ts">
import { LineChart } from 'echarts/charts'
import { GridComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import type { ForceCurve } from '@/api/schema'
import { chartStyle, colour, endOffsets, wholeTop } from '@/parts/chart'
import ChartFigure from '@/parts/ChartFigure.vue'
import type { KnifeMark } from '@/parts/letters'

/** Downward force against depth, one line per knife in its own hue and pattern. */
const props = defineProps<{ curve: ForceCurve; marks: KnifeMark[]; tags: string[] }>()

use([LineChart, GridComponent, TooltipComponent, SVGRenderer])

/** The chart's height without what is above and below the plot. */
const PLOT_PX = 240 - 14 - 38
const option = computed(() => {
  const { axis: quiet, whole, tooltip } = chartStyle()
  const axis = { ...quiet, type: 'value' as const }
  const top = wholeTop(Math.max(...props.curve.force_n.flatMap((force) => force ?? [])))
  const ends = props.curve.force_n.map((force) => force?.at(-1) ?? 0)
  const down = endOffsets(ends, top, PLOT_PX)
  return {
    ...whole,
    grid: { left: 46, right: 16, top: 14, bottom: 38 },
    tooltip: {
      ...tooltip,
      trigger: 'axis' as const,
      valueFormatter: (value: unknown) => `${Math.round(Number(value))} N`,
    },
    xAxis: { ...axis, name: 'depth, mm', nameGap: 24, max: props.curve.depth_mm.at(-1) },
    yAxis: { ...axis, name: 'force, N', nameGap: 32, min: 0, max: top },
    series: props.curve.force_n.flatMap((force, i) => {
      const style = props.marks[i]
      if (!force || !style) return []
      return [
        {
          type: 'line' as const,
          name: `${style.letter} ${props.tags[i] ?? ''}`,
          data: force.map((f, j) => [props.curve.depth_mm[j], f]),
          showSymbol: false,
          color: colour(style.colour),
          lineStyle: { width: 2, type: style.echarts },
          endLabel: {
            show: true,
            formatter: style.letter,
            color: colour(style.colour),
            offset: [0, down[i] ?? 0],
          },
        },
      ]
    }),
  }
})
</script>

<template>
  <ChartFigure class="chart" :option="option" name="Force against depth" />
</template>

<style scoped>
.chart {
  height: 240px;
}
</style>
