<script setup lang="ts">
import { computed, ref } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import { useHand } from '@/strip/store'
import { firstSteps } from './hints'

/** First steps, one quiet line on the Rack; each goes once it is done, and all of them with Skip. */
const props = defineProps<{ knives: number | undefined }>()

const KEY = 'maple-rook.hinted'
const { catalogue } = useCatalogue()
const hand = useHand()
const skipped = ref(localStorage.getItem(KEY) !== null)
const passed = ref(0)
const shown = computed(() =>
  props.knives === undefined || !catalogue.value
    ? { steps: [], done: 0 }
    : firstSteps(props.knives, hand.ids.length, !catalogue.value.demo),
)
const steps = computed(() => shown.value.steps)
const step = computed(() => Math.max(passed.value, shown.value.done))

function next(): void {
  passed.value = step.value + 1
  if (passed.value >= steps.value.length) dismiss()
}

function dismiss(): void {
  skipped.value = true
  localStorage.setItem(KEY, 'yes')
}
</script>

<template>
  <aside v-if="!skipped && step < steps.length" class="hint no-print" aria-label="First steps">
    <span class="count">{{ step + 1 }} of {{ steps.length }}</span>
    <span>{{ steps[step] }}</span>
    <button type="button" class="plain act" @click="next">
      {{ step + 1 < steps.length ? 'Next' : 'Done' }}
    </button>
    <button type="button" class="plain soft" @click="dismiss">Skip</button>
  </aside>
</template>

<style scoped>
.hint {
  display: flex;
  gap: 14px;
  align-items: baseline;
  margin-bottom: 10px;
  color: var(--soft-ink);
  font-size: var(--size-s);
}

.count {
  white-space: nowrap;
}

.act {
  color: var(--measured);
}
</style>
