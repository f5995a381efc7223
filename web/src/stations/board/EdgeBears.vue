<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { computed } from 'vue'
import type { JudgedKnife } from '@/api/schema'
import { rangeText } from '@/parts/numbers'
import type { KnifeMark } from '@/parts/letters'

/** Robustness: the load each edge bears over that of a stroke, before it rolls or chips. */
const props = defineProps<{ knives: JudgedKnife[]; marks: KnifeMark[] }>()

const styles = computed(() => {
  const first = props.knives.find((k) => k.margins.length)
  return (first?.margins ?? []).map((m, n) => ({
    style: m.style,
    cells: props.knives.map((k) => k.margins[n]),
  }))
})
const range = ([, low = 0, high = 0]: number[]) => rangeText({ low, high })
</script>

<template>
  <div class="scroll">
    <table v-if="styles.length">
      <thead>
        <tr>
          <th>load borne over the stroke's</th>
          <th v-for="m in marks" :key="m.letter" :style="{ color: m.colour }">{{ m.letter }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in styles" :key="row.style">
          <td>{{ labelOf('StrokeStyle', row.style) }}</td>
          <td v-for="(m, i) in row.cells" :key="i">
            <template v-if="m">
              <span class="grade-P">{{ range(m.roll) }}</span>
              <div class="small" :class="m.words === 'holds' ? 'soft' : 'rust'">
                {{ m.words === 'holds' ? '' : '⚠ ' }}{{ m.words }}
              </div>
            </template>
            <span v-else class="soft">n. m.</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="soft small">Hardness or angle is not measured.</p>
  </div>
</template>

<style scoped>
table {
  table-layout: fixed;
  min-width: 380px;
}

td {
  line-height: 1.25;
}
</style>
