<script setup lang="ts">
import type { CheckOut } from '@/api/schema'

/** The running checks: open ones with what to do, settled ones with who decided. */
defineProps<{ checks: CheckOut[]; locked: boolean }>()
defineEmits<{ ask: [check: CheckOut] }>()
</script>

<template>
  <section aria-label="Checks">
    <h2>Checks</h2>
    <p v-if="!checks.length" class="soft small">No contradictions so far.</p>
    <ul v-else>
      <li v-for="check in checks" :key="check.key" :class="{ settled: check.stands }">
        <p v-if="check.stands" class="soft">
          ✓ {{ check.wrong }}: confirmed, {{ check.decided_by }} decided.
        </p>
        <template v-else>
          <p class="rust">⚠ {{ check.wrong }}.</p>
          <p class="soft">
            {{ check.mend }}.
            <button v-if="!locked" type="button" class="plain" @click="$emit('ask', check)">
              decide (Alt+C)
            </button>
          </p>
        </template>
      </li>
    </ul>
  </section>
</template>

<style scoped>
h2 {
  border: 0;
  padding: 0;
  font-family: var(--sans);
  font-size: var(--size-s);
  font-weight: 500;
  color: var(--soft-ink);
  margin: 8px 0 2px;
}

ul {
  list-style: none;
  padding: 0;
  margin: 0;
}

li {
  font-size: 14px;
  padding: 4px 0;
  border-bottom: 1px solid var(--hairline);
}

p {
  margin: 0;
}

button {
  text-decoration: underline !important;
  color: var(--measured) !important;
}
</style>
