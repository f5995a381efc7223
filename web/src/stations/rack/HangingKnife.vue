<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import type { RackRow } from '@/api/schema'
import KnifeShape from '@/drawings/KnifeShape.vue'
import { extent } from '@/drawings/paths'
import { meanText, rangeText } from '@/parts/numbers'
import QuietLink from '@/parts/QuietLink.vue'
import WhiskerBar from '@/parts/WhiskerBar.vue'
import { mark } from '@/parts/letters'
import { useHand } from '@/strip/store'

/** One knife on the rail, edge down, at the scale shared by the whole shelf. */
const props = defineProps<{ row: RackRow; span: number }>()
const emit = defineEmits<{ point: [id: number | null] }>()

const hand = useHand()
const { onShelf, typeLabel } = useCatalogue()
const at = computed(() => hand.ids.indexOf(props.row.piece.id))
const box = computed(() => {
  const { left, right, top, bottom } = extent(props.row.outline)
  const middle = (left + right) / 2
  const high = top - Math.min(0, bottom)
  return `${middle - props.span / 2 - 4} ${-top - 3} ${props.span + 8} ${high + 6}`
})
const figures = computed(() => props.row.figures)
</script>

<template>
  <li
    class="place"
    @mouseenter="emit('point', row.piece.id)"
    @mouseleave="emit('point', null)"
    @focusin="emit('point', row.piece.id)"
  >
    <div class="rail" :style="{ '--tick': `${1000 / (span + 8)}%` }" aria-hidden="true"></div>
    <QuietLink
      :to="`/sheet/${row.piece.id}`"
      class="drawing"
      :aria-label="`Sheet of ${row.piece.name}`"
    >
      <svg :viewBox="box" aria-hidden="true"><KnifeShape :outline="row.outline" /></svg>
    </QuietLink>
    <div class="text">
      <p class="name">
        <QuietLink :to="`/sheet/${row.piece.id}`"
          >{{ row.piece.maker }} {{ row.piece.line }}</QuietLink
        >
      </p>
      <p class="kind soft small">
        <span>{{ typeLabel(row.piece.knife_type) }}</span>{{ ' '
        }}<span>{{ row.piece.nominal_mm }} · {{ row.piece.tag }}</span>
      </p>
      <p class="figures">
        <span v-if="figures.hardness"
          >{{ meanText(figures.hardness) }} <span class="unit">HRC</span></span
        >
        <span v-else class="soft">HRC not measured</span>
        <span v-if="figures.edge_length">
          {{ meanText(figures.edge_length) }} <span class="unit">mm</span>
        </span>
        <span v-if="figures.weight"
          >{{ meanText(figures.weight) }} <span class="unit">g</span></span
        >
      </p>
      <dl class="small">
        <template v-for="{ key, unit, grade, predicted: how } in onShelf" :key="key">
          <dt>{{ how.short }}</dt>
          <dd v-if="row.predicted[key]">
            <WhiskerBar
              v-bind="row.predicted[key]"
              :from="how.scale[0]"
              :to="how.scale[1]"
              :colour="grade === 'G' ? 'var(--derived)' : undefined"
              thin
            />
            <span>
              {{ rangeText(row.predicted[key]) }}
              <span v-if="unit" class="unit">{{ unit.slice(0, 2) }}</span>
            </span>
          </dd>
          <dd v-else class="soft">not predicted</dd>
        </template>
      </dl>
      <button
        type="button"
        class="plain hang small no-print"
        :aria-pressed="at >= 0"
        :aria-label="at >= 0 ? `Take ${row.piece.tag} off the strip` : `Hang ${row.piece.tag}`"
        @click="hand.toggle(row.piece.id)"
      >
        <template v-if="at >= 0">
          <b :style="{ color: mark(at).colour }">{{ mark(at).letter }}</b> in hand · take off
        </template>
        <template v-else>Hang</template>
      </button>
      <ul v-if="row.flags.length" class="flags small">
        <li v-for="flag in row.flags" :key="flag.label" :class="{ rust: flag.grave }">
          {{ flag.grave ? '⚠ ' : '' }}{{ flag.label }}
        </li>
      </ul>
    </div>
  </li>
</template>

<style scoped>
.place {
  display: grid;
  grid-row: span 3;
  grid-template-rows: subgrid;
  grid-template-columns: minmax(0, 1fr);
  padding-bottom: 16px;
}

.rail {
  height: 9px;
  background:
    repeating-linear-gradient(90deg, #8a949b 0 1px, transparent 1px var(--tick)) bottom / 100% 3px
      no-repeat,
    var(--strip);
}

.drawing svg {
  display: block;
  width: 100%;
  margin-top: -4px;
}

.text {
  min-width: 0;
  padding: 4px 12px 0 6px;
}

p {
  margin: 0;
}

.name a {
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
}

.name a:hover {
  text-decoration: underline;
}

.kind {
  display: flex;
  gap: 4px;
  white-space: nowrap;
}

.kind span:first-child {
  overflow: hidden;
  text-overflow: ellipsis;
}

.figures {
  display: flex;
  flex-wrap: wrap;
  column-gap: 10px;
  white-space: nowrap;
  padding-top: 3px;
}

dl {
  display: grid;
  grid-template-columns: 34px 1fr;
  align-items: center;
  margin: 2px 0 0;
}

dt {
  color: var(--soft-ink);
}

dd {
  margin: 0;
  display: grid;
  grid-template-columns: 1fr 74px;
  gap: 6px;
  align-items: center;
}

dd.soft {
  display: block;
}

dd span:last-child {
  text-align: right;
}

.flags {
  list-style: none;
  margin: 5px 0 0;
  padding: 0;
  color: var(--soft-ink);
  line-height: 1.25;
}

.hang {
  margin-top: 5px;
  padding: 3px 8px;
  border: 1px solid var(--hairline);
  border-radius: 3px;
}

.hang:hover {
  border-color: var(--measured);
}
</style>
