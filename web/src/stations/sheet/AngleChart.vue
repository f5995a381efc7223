<script setup lang="ts">
import { LineChart } from 'echarts/charts'
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import type { EaseOut } from '@/api/schema'
import { chartStyle, colour } from '@/parts/chart'
import ChartFigure from '@/parts/ChartFigure.vue'
import { MARKS } from '@/parts/letters'
import LineKey from '@/parts/LineKey.vue'

/** What the edge angle alone gives and takes, per cent of the knife as measured. */
const props = defineProps<{ ease: EaseOut; measured: number; tried: number | undefined }>()

use([LineChart, GridComponent, MarkLineComponent, TooltipComponent, SVGRenderer])

const SHORT: Record<string, string> = {
  cutting_ease: 'ease',
  worn_ease: 'ease, half worn',
  bite: 'bite',
  months_to_stone: 'months to the stone',
}
const option = computed(() => {
  const { axis: quiet, whole, tooltip } = chartStyle()
  const axis = { ...quiet, type: 'value' as const }
  const ink = colour('--soft-ink')
  const upright = (at: number, name: string) => ({ xAxis: at, label: { formatter: name } })
  return {
    ...whole,
    grid: { left: 46, right: 10, top: 20, bottom: 38 },
    tooltip: { ...tooltip, trigger: 'axis' as const },
    xAxis: {
      ...axis,
      name: '° per side',
      nameGap: 24,
      min: 8,
      max: 30,
      splitLine: { show: false },
    },
    yAxis: { ...axis, name: '% of as measured', nameGap: 34, scale: true },
    series: props.ease.by_angle.map((line, i) => ({
      type: 'line' as const,
      name: SHORT[line.key] ?? line.label,
      data: line.percent.map((percent, at) => [props.ease.angles_deg[at], percent]),
      showSymbol: false,
      color: colour(MARKS[i]?.colour ?? '--ink'),
      lineStyle: { width: 2, type: MARKS[i]?.echarts },
      ...(i === 0
        ? {
            markLine: {
              silent: true,
              symbol: 'none',
              lineStyle: { color: ink, type: [4, 3] },
              label: { color: ink, fontSize: 12 },
              data: [
                upright(props.measured, 'measured'),
                ...(props.tried === undefined ? [] : [upright(props.tried, 'tried')]),
              ],
            },
          }
        : {}),
    })),
  }
})
const key = computed(() =>
  props.ease.by_angle.map((line, i) => ({
    name: SHORT[line.key] ?? line.label,
    colour: MARKS[i]?.colour,
    dash: MARKS[i]?.dash,
  })),
)
</script>

<template>
  <div>
    <ChartFigure
      class="chart"
      :option="option"
      name="Ease, bite and months to the stone by the angle of the edge"
    />
    <LineKey :lines="key" />
  </div>
</template>

<style scoped>
.chart {
  height: 210px;
}
</style>
