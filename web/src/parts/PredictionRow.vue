<script setup lang="ts">
import { computed } from 'vue'
import type { PredictionOut } from '@/api/schema'
import type { KnifeMark } from '@/parts/letters'
import { intervalOf, likelyText, rangeText, unitText } from './numbers'
import { useWhy } from './why'
import WhiskerBar from './WhiskerBar.vue'

/** One prediction on a named scale; the whole row opens its explanation. */
const props = defineProps<{
  prediction: PredictionOut
  knife: string
  from: number
  to: number
  label?: string
  style?: KnifeMark
}>()

const why = useWhy()
const interval = computed(() => intervalOf(props.prediction))
</script>

<template>
  <button
    type="button"
    class="plain prediction"
    :aria-label="`Why: ${prediction.label}, ${knife}`"
    @click="why.explain(prediction, knife)"
  >
    <span class="label">
      <b v-if="style" :style="{ color: style.colour }">{{ style.letter }}</b>
      {{ label ?? prediction.label }}
    </span>
    <template v-if="interval">
      <WhiskerBar
        v-bind="interval"
        :from="from"
        :to="to"
        :colour="
          style?.colour ?? (prediction.grade === 'G' ? 'var(--derived)' : 'var(--predicted)')
        "
        :dash="style?.dash"
      />
      <span class="value">
        {{ rangeText(interval) }} <span class="unit">{{ unitText(prediction.unit) }}</span>
      </span>
      <span class="likely soft">likely {{ likelyText(interval) }}</span>
      <span class="grade" :class="`grade-${prediction.grade}`" aria-hidden="true">
        {{ prediction.grade }}
      </span>
    </template>
    <span v-else class="unavailable soft">{{ prediction.unavailable }}</span>
    <span v-if="interval && prediction.notes.length" class="notes small soft">
      {{ prediction.notes.join(' ') }}
    </span>
  </button>
</template>

<style scoped>
.prediction {
  display: grid;
  grid-template-columns: minmax(120px, 1.2fr) minmax(80px, 1.3fr) 112px 84px 16px;
  gap: 0 10px;
  align-items: center;
  width: 100%;
  padding: 4px 0 !important;
  border-bottom: 1px solid var(--hairline) !important;
}

.prediction:hover {
  background: var(--panel) !important;
}

.value {
  text-align: right;
}

.unavailable {
  grid-column: 2 / -1;
}

.grade {
  font-size: var(--size-s);
  font-weight: 600;
}

.notes {
  grid-column: 1 / -1;
}

@media (max-width: 699px) {
  .prediction {
    grid-template-columns: minmax(0, 1fr) 104px 76px 14px;
  }

  .prediction :deep(.whisker) {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
