<script setup lang="ts">
import { LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import type { TriedCut } from '@/api/schema'
import { chartStyle, colour } from '@/parts/chart'
import ChartFigure from '@/parts/ChartFigure.vue'
import type { KnifeMark } from '@/parts/letters'

/** Force against depth in one food: points as read, lines as the model has them. */
const props = defineProps<{
  cuts: TriedCut[]
  marks: KnifeMark[]
  calibrated: boolean
  label: string
}>()

use([LineChart, ScatterChart, GridComponent, TooltipComponent, SVGRenderer])

const option = computed(() => {
  const { axis: quiet, whole, tooltip } = chartStyle()
  const axis = { ...quiet, type: 'value' as const, min: 0 }
  return {
    ...whole,
    grid: { left: 44, right: 8, top: 8, bottom: 36 },
    tooltip: { ...tooltip, trigger: 'item' as const },
    xAxis: { ...axis, name: 'depth, mm', nameGap: 22, splitLine: { show: false } },
    yAxis: { ...axis, name: 'force, N', nameGap: 30 },
    series: props.cuts.flatMap((cut, i) => {
      const mark = props.marks[i]
      const hue = colour(mark?.colour ?? '--ink')
      const forces = props.calibrated ? cut.calibrated_n : cut.assumed_n
      return [
        {
          type: 'scatter' as const,
          name: `${cut.tag}, read`,
          data: cut.depth_mm.map((d, at) => [d, cut.force_n[at]]),
          symbolSize: 4,
          itemStyle: { color: 'transparent', borderColor: hue, borderWidth: 1 },
        },
        {
          type: 'line' as const,
          name: `${cut.tag}, model`,
          data: forces.map((force, at) => [cut.depth_mm[at], force]),
          showSymbol: false,
          color: hue,
          lineStyle: { width: 1.8, type: mark?.echarts },
        },
      ]
    }),
  }
})
</script>

<template>
  <ChartFigure class="chart" :option="option" :name="`Force against depth, ${label}`" />
</template>

<style scoped>
.chart {
  height: 230px;
}
</style>
