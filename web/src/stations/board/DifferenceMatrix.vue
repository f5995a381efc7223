<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Difference } from '@/api/schema'
import { mark } from '@/parts/letters'
import { matrixOf, pairText } from './matrix'

/** One quantity, every knife against every other: the row's against the column's. */
const props = defineProps<{ rows: Difference[]; count: number }>()

const chosen = ref('')
const d = computed(() => props.rows.find((r) => r.key === chosen.value) ?? props.rows[0])
const cells = computed(() => (d.value ? matrixOf(d.value) : []))
const marks = computed(() => Array.from({ length: props.count }, (_, i) => mark(i)))
const pointed = ref<[number, number]>([0, 1])
const said = computed(() => {
  const [i, j] = pointed.value
  const cell = cells.value[i]?.[j]
  const [one, other] = [marks.value[i]?.letter, marks.value[j]?.letter]
  return cell && d.value && one && other ? pairText(d.value, cell, one, other) : ''
})
const SIGN = { noticeable: '●', real: '○', not_measurable: '=' }
</script>

<template>
  <div v-if="d">
    <label class="quantity">
      <span class="soft">quantity</span>
      <select :value="d.key" @change="chosen = ($event.target as HTMLSelectElement).value">
        <option v-for="row in rows" :key="row.key" :value="row.key">{{ row.label }}</option>
      </select>
    </label>
    <div class="scroll">
      <table aria-label="Every pair">
        <thead>
          <tr>
            <th class="soft">against</th>
            <th v-for="m in marks" :key="m.letter" class="number" :style="{ color: m.colour }">
              {{ m.letter }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, i) in cells" :key="i">
            <th scope="row" :style="{ color: marks[i]?.colour }">{{ marks[i]?.letter }}</th>
            <td v-for="(cell, j) in row" :key="j">
              <button
                v-if="cell"
                type="button"
                class="plain cell"
                :class="{
                  on: pointed[0] === i && pointed[1] === j,
                  same: cell.verdict === 'not_measurable',
                }"
                :aria-label="pairText(d, cell, marks[i]?.letter ?? '', marks[j]?.letter ?? '')"
                @click="pointed = [i, j]"
              >
                <span class="number">{{ cell.by }}</span>
                <span class="small soft">{{ cell.percent }}</span>
                <span aria-hidden="true">{{ SIGN[cell.verdict] }}</span>
              </button>
              <span v-else class="soft">{{ i === j ? '' : 'n. m.' }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p role="status" class="said">{{ said }}</p>
    <p class="small soft">
      ● noticeable, ○ real but small, = not measurable; per cent of the column.
    </p>
  </div>
</template>

<style scoped>
.quantity {
  display: flex;
  gap: 8px;
  align-items: baseline;
  margin-bottom: 6px;
}

td {
  padding: 1px 2px;
}

.cell {
  display: flex;
  gap: 6px;
  align-items: baseline;
  justify-content: flex-end;
  width: 100%;
  min-height: 32px;
  white-space: nowrap;
  padding: 2px 6px !important;
  border: 1px solid transparent !important;
  border-radius: 3px;
  font-variant-numeric: tabular-nums;
}

.cell.on {
  border-color: var(--measured) !important;
}

.cell.same {
  color: var(--soft-ink) !important;
}

.said {
  margin: 6px 0 0;
}
</style>
