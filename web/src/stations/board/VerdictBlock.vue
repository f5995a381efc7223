<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { SentenceOut } from '@/api/schema'
import { pointAt } from './evidence'

/** The verdict, always in sight: each sentence leads to what it stands on. */
const props = defineProps<{ sentences: SentenceOut[]; sheets: Record<string, number> }>()

const router = useRouter()
const whole = ref(false)
const SHORT = 3

/** Claims stand on the knife's own Sheet. */
function show({ evidence }: SentenceOut): void {
  const letter = evidence[0]?.match(/^claims\.([A-F])$/)?.[1]
  const sheet = letter === undefined ? undefined : props.sheets[letter]
  if (sheet !== undefined) void router.push({ path: `/sheet/${sheet}`, hash: '#claims' })
  else pointAt(evidence)
}
</script>

<template>
  <footer class="verdict" role="region" aria-label="Verdict">
    <button
      v-for="sentence in whole ? sentences : sentences.slice(0, SHORT)"
      :key="sentence.text"
      type="button"
      class="plain sentence"
      title="show what this stands on"
      @click="show(sentence)"
    >
      {{ sentence.text }}
    </button>
    <p class="soft small foot">
      <button
        v-if="sentences.length > SHORT"
        type="button"
        class="plain more no-print"
        :aria-expanded="whole"
        @click="whole = !whole"
      >
        {{ whole ? 'shorter' : `the whole verdict, ${sentences.length - SHORT} more sentences` }}
      </button>
      Estimates from geometry and steel, never a promise that a cut is safe.
    </p>
  </footer>
</template>

<style scoped>
.verdict {
  position: sticky;
  bottom: 0;
  z-index: 2;
  margin: 24px -20px -32px;
  padding: 8px 20px;
  background: var(--panel);
  border-top: 1px solid var(--soft-ink);
  max-height: 46vh;
  overflow-y: auto;
}

.sentence {
  display: block;
  font-family: var(--serif);
  font-size: var(--size-l);
  line-height: 1.3;
  padding: 1px 0 !important;
}

.sentence:hover {
  text-decoration: underline;
  text-decoration-color: var(--measured);
  text-underline-offset: 3px;
}

.foot {
  margin: 2px 0 0;
}

.more {
  color: var(--measured);
  text-decoration: underline;
  margin-right: 10px;
}

@media (max-width: 699px) {
  .verdict {
    position: static;
    margin: 20px -12px 0;
    padding: 10px 12px;
    max-height: none;
  }
}

@media print {
  .verdict {
    position: static;
  }
}
</style>
