<script setup lang="ts">
import type { FigureOut, ReadingOut } from '@/api/schema'
import { expandedText, meanText, ratioText, rounded, unitText } from '@/parts/numbers'

/** The last readings of one quantity, with mean, spread and uncertainty. */
defineProps<{
  readings: ReadingOut[]
  figure: FigureOut | null
  unit: string
  waiting: string[]
  locked: boolean
}>()
defineEmits<{ strike: [id: number] }>()

const time = (iso: string) =>
  new Date(iso).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })
</script>

<template>
  <div class="readings">
    <p v-if="figure" class="figure">
      <strong class="grade-M">
        <template v-if="unit === '%'">{{ ratioText(figure.mean) }}</template>
        <template v-else>{{ meanText(figure) }} ± {{ expandedText(figure) }}</template>
      </strong>
      <span class="unit"> {{ unit === '%' ? 'right:left' : unitText(unit) }}</span>
      <span class="soft small">
        {{ figure.n }} {{ figure.n === 1 ? 'reading' : 'readings'
        }}<template v-if="figure.n > 1">, spread {{ rounded(figure.spread, 2) }}</template
        >, U with k = 2
      </span>
    </p>
    <p v-else-if="!waiting.length" class="soft">Not measured yet.</p>
    <ol v-if="readings.length || waiting.length">
      <li v-for="r in readings" :key="r.id" :class="{ struck: r.voided }">
        <span>{{ r.typed }}</span>
        <span v-if="r.unit !== r.si_unit" class="soft">
          = {{ rounded(r.si_value, 2) }} {{ unitText(r.si_unit) }}</span
        >
        <span v-if="r.unusual_confirmed" class="rust small"> ⚠ unusual, confirmed</span>
        <span class="soft small"> {{ time(r.taken_at) }}, {{ r.person }}, {{ r.instrument }}</span>
        <span v-if="r.voided" class="soft small"> voided: {{ r.voided }}</span>
        <button
          v-else-if="!locked"
          type="button"
          class="plain soft small strike"
          tabindex="-1"
          :aria-label="`Void the reading ${r.typed}`"
          @click="$emit('strike', r.id)"
        >
          void
        </button>
      </li>
      <li v-for="(typed, i) in waiting" :key="`w${i}`" class="soft">{{ typed }} on its way</li>
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

ol {
  margin: 0;
  padding: 0 0 0 20px;
  max-height: 180px;
  overflow-y: auto;
}

.struck > span:first-child {
  text-decoration: line-through;
  color: var(--soft-ink);
}

.strike {
  text-decoration: underline;
}
</style>
