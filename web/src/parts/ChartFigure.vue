<script setup lang="ts">
import type { EChartsCoreOption } from 'echarts/core'
import { ref } from 'vue'
import VChart from 'vue-echarts'
import { scheme, type Scheme } from '@/theme/scheme'
import { chartFile, NARROWEST_PX, WIDEST_PX, type ChartFile } from './chartFile'

/** A chart, and the same as a file to publish; `name` is what it shows. */
const props = defineProps<{ option: EChartsCoreOption; name: string }>()

const figure = ref<HTMLElement>()
const saving = ref(false)
const format = ref<ChartFile['format']>('png')
const widthPx = ref(1200)
const wanted = ref<Scheme>(scheme.value)
const fault = ref('')
const FORMATS = [
  { value: 'png', title: 'Picture .png' },
  { value: 'svg', title: 'Drawing .svg' },
]
const SCHEMES = [
  { value: 'maple', title: 'Light' },
  { value: 'rook', title: 'Dark' },
]

function ask(): void {
  wanted.value = scheme.value
  fault.value = ''
  saving.value = true
}
async function save(): Promise<void> {
  const box = figure.value?.querySelector('.chart')?.getBoundingClientRect()
  const width = Math.min(Math.max(Math.round(widthPx.value) || 0, NARROWEST_PX), WIDEST_PX)
  const asked = { format: format.value, widthPx: width, scheme: wanted.value }
  try {
    const link = document.createElement('a')
    link.href = await chartFile(props.option, box ? box.height / box.width : 0.5, asked)
    link.download = `${props.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.${asked.format}`
    link.click()
    saving.value = false
  } catch (error) {
    fault.value = `The chart was not saved: ${(error as Error).message}`
  }
}
</script>

<template>
  <div ref="figure" class="figure">
    <VChart class="chart" :option="option" autoresize role="img" :aria-label="name" />
    <button
      type="button"
      class="plain save small no-print"
      :aria-label="`Save chart: ${name}`"
      @click="ask"
    >
      save
    </button>
    <v-dialog v-model="saving" max-width="400" aria-labelledby="save-chart">
      <form class="dialog-panel fields" @submit.prevent="save">
        <h2 id="save-chart">Save chart</h2>
        <v-select v-model="format" v-focus :items="FORMATS" label="File" />
        <v-text-field
          v-model.number="widthPx"
          label="Width, px"
          type="number"
          :min="NARROWEST_PX"
          :max="WIDEST_PX"
        />
        <v-select v-model="wanted" :items="SCHEMES" label="Colours" />
        <p v-if="fault" class="rust" role="alert">⚠ {{ fault }}</p>
        <p class="buttons">
          <v-btn type="submit" color="primary" variant="flat">Save</v-btn>
          <v-btn variant="text" @click="saving = false">Cancel</v-btn>
        </p>
      </form>
    </v-dialog>
  </div>
</template>

<style scoped>
.figure {
  position: relative;
}

.chart {
  height: 100%;
}

.save {
  position: absolute;
  right: 0;
  bottom: 0;
  color: var(--soft-ink);
  text-decoration: underline;
}
</style>
