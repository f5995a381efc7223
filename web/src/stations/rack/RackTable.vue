<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import type { RackRow } from '@/api/schema'
import { meanText, rangeText, likelyText } from '@/parts/numbers'
import { mark } from '@/parts/letters'
import QuietLink from '@/parts/QuietLink.vue'
import { useHand } from '@/strip/store'
import { useVisible } from './useVisible'

/** The shelf as a dense table of the same rows; only those near the window are drawn. */
const props = defineProps<{ count: number; at: (place: number) => RackRow | undefined }>()
const emit = defineEmits<{ point: [id: number | null]; see: [first: number, last: number] }>()

const body = ref<HTMLElement | null>(null)
const { drawn, before, after, measure } = useVisible(
  body,
  computed(() => props.count),
  29,
  12,
)
const lines = computed(() => drawn.value.map(({ index }) => ({ index, row: props.at(index) })))
watch(
  drawn,
  (now) => {
    const [first, last] = [now[0], now.at(-1)]
    if (first && last) emit('see', first.index, last.index)
  },
  { immediate: true },
)

const hand = useHand()
const { onShelf, typeLabel } = useCatalogue()
/** "heavy fish knife (deba)" is "deba" where there is little room. */
const shortType = (key: string) => typeLabel(key).replace(/^.*\((.*)\)$/, '$1')
const COLUMNS = [
  ['hardness', 'HRC', ''],
  ['edge_length', 'edge', 'mm'],
  ['weight', 'weight', 'g'],
  ['height_heel', 'height', 'mm'],
  ['spine_heel', 'spine', 'mm'],
  ['thickness_behind_edge', 'behind edge', 'mm'],
  ['edge_angle', 'angle', '°/side'],
] as const
const wide = computed(() => COLUMNS.length + onShelf.value.length + 4)
</script>

<template>
  <div class="scroll">
    <table :aria-rowcount="count + 1">
      <thead>
        <tr>
          <th>in hand</th>
          <th>knife</th>
          <th>type</th>
          <th v-for="[key, label, unit] in COLUMNS" :key="key" class="number">
            {{ label }} <span class="unit">{{ unit }}</span>
          </th>
          <th v-for="card in onShelf" :key="card.key" class="number">
            {{ card.predicted.short }} <span v-if="card.unit" class="unit">{{ card.unit }}</span>
          </th>
          <th>flags</th>
        </tr>
      </thead>
      <tbody ref="body">
        <tr v-if="before" aria-hidden="true">
          <td :colspan="wide" :style="{ height: `${before}px`, padding: 0 }"></td>
        </tr>
        <tr
          v-for="{ index, row } in lines"
          :key="index"
          :ref="measure"
          :data-index="index"
          :aria-rowindex="index + 2"
          @mouseenter="emit('point', row?.piece.id ?? null)"
          @mouseleave="emit('point', null)"
        >
          <td v-if="!row" :colspan="wide" class="soft">…</td>
          <template v-else>
            <td>
              <button
                type="button"
                class="plain hang"
                :aria-label="`Hang ${row.piece.tag}`"
                :aria-pressed="hand.ids.includes(row.piece.id)"
                @click="hand.toggle(row.piece.id)"
              >
                <b
                  v-if="hand.ids.includes(row.piece.id)"
                  :style="{ color: mark(hand.ids.indexOf(row.piece.id)).colour }"
                >
                  {{ mark(hand.ids.indexOf(row.piece.id)).letter }}
                </b>
                <template v-else>Hang</template>
              </button>
            </td>
            <td>
              <QuietLink :to="`/sheet/${row.piece.id}`">
                {{ row.piece.maker }} {{ row.piece.line }} {{ row.piece.nominal_mm }}
              </QuietLink>
              <span class="soft"> {{ row.piece.tag }}</span>
            </td>
            <td class="type">{{ shortType(row.piece.knife_type) }}</td>
            <td v-for="[key] in COLUMNS" :key="key" class="number">
              <template v-if="row.figures[key]">{{ meanText(row.figures[key]) }}</template>
              <span v-else class="soft" title="not measured">n. m.</span>
            </td>
            <td v-for="{ key, grade } in onShelf" :key="key" class="number">
              <template v-if="row.predicted[key]">
                {{ (grade === 'G' ? likelyText : rangeText)(row.predicted[key]) }}
              </template>
              <span v-else class="soft" title="not predicted">n. p.</span>
            </td>
            <td class="small">{{ row.flags.map((flag) => flag.label).join(', ') }}</td>
          </template>
        </tr>
        <tr v-if="after" aria-hidden="true">
          <td :colspan="wide" :style="{ height: `${after}px`, padding: 0 }"></td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">n. m. not measured · n. p. not predicted</p>
  </div>
</template>

<style scoped>
@media (min-width: 1200px) {
  .scroll {
    overflow-x: visible;
  }

  thead th {
    position: sticky;
    top: calc(var(--v-layout-top, 68px) + 58px);
    z-index: 1;
    background: var(--ground);
  }
}

th {
  white-space: normal;
  vertical-align: bottom;
}

th .unit {
  display: block;
}

td:nth-child(2),
.type {
  white-space: nowrap;
}

td:nth-child(2) .soft {
  margin-left: 6px;
}

td:last-child {
  min-width: 150px;
  line-height: 1.2;
}

tr:hover td {
  background: var(--panel);
}

.hang {
  color: var(--measured);
}
</style>
