<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { SentenceOut } from '@/api/schema'
import { pointAt } from './evidence'

/** The verdict beside what differs, in sight as that is read: each sentence leads to its evidence. */
const props = defineProps<{ sentences: SentenceOut[]; sheets: Record<string, number> }>()

const router = useRouter()
const whole = ref(false)
const SHORT = 4

/** Claims stand on the knife's own Sheet. */
function show({ evidence }: SentenceOut): void {
  const letter = evidence[0]?.match(/^claims\.([A-F])$/)?.[1]
  const sheet = letter === undefined ? undefined : props.sheets[letter]
  if (sheet !== undefined) void router.push({ path: `/sheet/${sheet}`, hash: '#claims' })
  else pointAt(evidence)
}
</script>

<template>
  <section class="verdict" aria-label="Verdict">
    <h2>Verdict</h2>
    <button
      v-for="sentence in whole ? sentences : sentences.slice(0, SHORT)"
      :key="sentence.text"
      type="button"
      class="plain sentence"
      title="show the evidence"
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
  </section>
</template>

<style scoped>
.verdict {
  padding: 10px 16px 12px;
  background: var(--panel);
  border: 1px solid var(--hairline);
  border-left: 3px solid var(--derived);
  border-radius: 3px;
}

h2 {
  margin: 0 0 4px;
}

.sentence {
  display: block;
  font-family: var(--serif);
  font-size: var(--size-l);
  line-height: 1.3;
  padding: 3px 0 !important;
  text-align: left;
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
</style>
