<script setup lang="ts">
import { CARD_MM, lifeSize, matching, pxPerMm, switchLifeSize } from './life'

/** The life-size switch, and the card it is matched with. */
function done(): void {
  pxPerMm.value = Number(pxPerMm.value)
  localStorage.setItem('maple-rook.px-per-mm', String(pxPerMm.value))
  matching.value = false
}
</script>

<template>
  <span class="life no-print">
    <button type="button" class="plain link" :aria-pressed="lifeSize" @click="switchLifeSize">
      {{ lifeSize ? 'fit to the page' : 'life size' }}
    </button>
    <button v-if="lifeSize" type="button" class="plain link" @click="matching = !matching">
      match the screen
    </button>
  </span>
  <div v-if="matching && lifeSize" class="card no-print" role="group" aria-label="Match the screen">
    <div class="outline" :style="{ width: `${CARD_MM * pxPerMm}px`, height: `${54 * pxPerMm}px` }">
      <span class="soft small">85.6 mm</span>
    </div>
    <p class="small">
      Hold any bank or library card against the frame and make the frame as wide as it.
      <input
        v-model.number="pxPerMm"
        type="range"
        min="2"
        max="9"
        step="0.01"
        aria-label="Width of the frame"
      />
      <v-btn size="small" @click="done">The size matches</v-btn>
    </p>
  </div>
</template>

<style scoped>
.life {
  display: inline-flex;
  gap: 14px;
}

.card {
  display: flex;
  gap: 20px;
  align-items: center;
  flex-wrap: wrap;
  margin: 8px 0 12px;
}

.outline {
  border: 1px solid var(--ink);
  border-radius: 10px;
  display: flex;
  align-items: end;
  justify-content: center;
  padding-bottom: 4px;
}

.card p {
  max-width: 40ch;
  margin: 0;
}

input[type='range'] {
  width: 100%;
  accent-color: var(--soft-ink);
}
</style>
