<script setup lang="ts">
import { computed } from 'vue'
import { addressOf } from '@/api/base'
import type { FigureOut, ReadingOut } from '@/api/schema'
import { expandedText, meanText, otherText, ratioText, rounded, unitText } from '@/parts/numbers'
import type { Waiting } from './queue'

/** The last readings of one quantity, with mean, spread and uncertainty. */
const props = defineProps<{
  readings: ReadingOut[]
  figure: FigureOut | null
  unit: string
  waiting: Waiting[]
  hint: string
  derived: number | undefined
  locked: boolean
}>()
defineEmits<{ strike: [reading: ReadingOut] }>()

const taken = computed(() => props.waiting.filter((w) => w.what === 'reading' && !w.refused))
const leaving = computed(
  () => new Set(props.waiting.filter((w) => w.what === 'void').map((w) => w.id.slice(5))),
)
const time = (iso: string) =>
  new Date(iso).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', hour12: false })
const where = (r: ReadingOut) =>
  r.above_edge_mm === null ? '' : `, ${r.above_edge_mm} mm up, ${r.along_mm ?? '?'} mm along`
const budget = (f: FigureOut) =>
  `repeats ${rounded(f.repeats, 3)} and instrument ${rounded(f.instrument, 3)} ${unitText(props.unit)}`
</script>

<template>
  <div class="readings">
    <p v-if="figure" class="figure">
      <strong :class="figure.kind === 'measured' ? 'grade-M' : 'not-measured'">
        <template v-if="unit === '%'">{{ ratioText(figure.mean) }}</template>
        <template v-else>{{ meanText(figure) }} ± {{ expandedText(figure) }}</template>
      </strong>
      <span class="unit"> {{ unit === '%' ? 'right:left' : unitText(unit) }}</span>
      <span v-if="otherText(figure.other)" class="soft"> = {{ otherText(figure.other) }} </span>
      <span v-if="figure.kind !== 'measured'" class="soft small budget">
        {{ figure.kind }}, not measured: it draws and predicts with its width, and judges no claim
      </span>
      <span v-else class="soft small budget">
        {{ figure.n }} {{ figure.n === 1 ? 'reading' : 'readings'
        }}<template v-if="figure.n > 1">, spread {{ rounded(figure.spread, 2) }}</template
        >; U (k = 2) from {{ budget(figure) }}
      </span>
    </p>
    <p v-else-if="!taken.length" class="soft">
      Not measured yet.
      <span v-if="derived !== undefined">
        From bevel widths and the other figure it should be {{ rounded(derived, 2) }}
        {{ unitText(unit) }}.
      </span>
    </p>
    <p v-if="hint" class="rust hint">↻ {{ hint }}.</p>
    <ol v-if="readings.length || taken.length">
      <li v-for="r in readings" :key="r.id" :class="{ struck: r.voided }">
        <span>{{ r.typed }}</span>
        <span v-if="r.unit !== r.si_unit" class="soft">
          = {{ rounded(r.si_value, 2) }} {{ unitText(r.si_unit) }}</span
        >
        <span v-if="r.unusual_confirmed" class="rust small"> ⚠ unusual, confirmed</span>
        <span class="soft small about" :title="r.instrument + where(r)">
          {{ time(r.taken_at) }}, {{ r.person }}, {{ r.kind === 'measured' ? r.instrument : r.kind
          }}{{ where(r) }}<template v-if="r.note">: {{ r.note }}</template>
        </span>
        <img
          v-if="r.photo_id"
          :src="addressOf(`/api/bench/photos/${r.photo_id}`)"
          alt="photo of it"
          loading="lazy"
        />
        <span v-if="r.voided" class="soft small"> voided: {{ r.voided }}</span>
        <span v-else-if="leaving.has(r.client_id)" class="soft small"> being voided</span>
        <button
          v-else-if="!locked"
          type="button"
          class="plain soft small strike"
          tabindex="-1"
          :aria-label="`Void the reading ${r.typed}`"
          @click="$emit('strike', r)"
        >
          void
        </button>
      </li>
      <li v-for="w in taken" :key="w.id" class="soft">{{ w.words }} on its way</li>
    </ol>
  </div>
</template>

<style scoped>
.figure {
  margin: 0 0 4px;
}

.figure strong {
  font-size: var(--size-xl);
  font-weight: 600;
}

.figure > * + *,
li > * + * {
  margin-left: 8px;
}

.figure .budget {
  display: block;
  margin-left: 0;
}

li {
  display: flex;
  align-items: baseline;
}

li > .about {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

img {
  width: 40px;
  height: 30px;
  object-fit: cover;
}

@media (max-width: 699px), (pointer: coarse) {
  .strike {
    min-width: 44px;
    min-height: 44px;
  }
}

.hint {
  margin: 2px 0;
}

ol {
  margin: 0;
  padding: 0;
  list-style: none;
  max-height: 150px;
  overflow-y: auto;
}

.struck > span:first-child {
  text-decoration: line-through;
  color: var(--soft-ink);
}

.strike {
  font-size: var(--size-s) !important;
  color: var(--soft-ink) !important;
  text-decoration: underline !important;
}
</style>
