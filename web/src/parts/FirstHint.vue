<script setup lang="ts">
import { ref } from 'vue'

const KEY = 'maple-rook.hinted'
const steps = [
  'Hang a knife: click “Hang” under one, or point at it and press H. It goes on the strip above.',
  'Hang two to six, then press 4: the Board says which differences are real and what they mean.',
  'Press 2 for the Bench and measure a knife of your own: one number, Enter, the next.',
]
const step = ref(localStorage.getItem(KEY) ? -1 : 0)

function next(): void {
  step.value = step.value + 1 < steps.length ? step.value + 1 : -1
  if (step.value < 0) localStorage.setItem(KEY, 'yes')
}

function dismiss(): void {
  step.value = -1
  localStorage.setItem(KEY, 'yes')
}
</script>

<template>
  <aside v-if="step >= 0" class="hint no-print" aria-label="First steps">
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
  padding: 8px 12px;
  margin-bottom: 12px;
  border: 1px solid var(--hairline);
  border-left: 3px solid var(--derived);
  border-radius: 3px;
  background: var(--panel);
}

.count {
  color: var(--derived);
  white-space: nowrap;
  font-size: var(--size-s);
}

.act {
  margin-left: auto;
  color: var(--measured);
  font-weight: 600;
}
</style>
