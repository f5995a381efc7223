<script setup lang="ts">
import { ref } from 'vue'

/** A part of a page that is rarely read: folded until it is opened, as this browser left it last. */
const props = defineProps<{ title: string; about: string }>()

const key = `maple-rook.open.${props.title}`
const open = ref(localStorage.getItem(key) !== null)

function remember(event: Event): void {
  open.value = (event.target as HTMLDetailsElement).open
  if (open.value) localStorage.setItem(key, 'yes')
  else localStorage.removeItem(key)
}
</script>

<template>
  <section :aria-label="title">
    <details class="folded" :open="open" @toggle.self="remember">
      <summary>
        <h2>{{ title }}</h2>
        <span class="soft small">{{ about }}</span>
      </summary>
      <slot />
    </details>
  </section>
</template>

<style scoped>
summary {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 12px;
  margin-bottom: 8px;
  border-bottom: 1px solid var(--hairline);
}

summary::before {
  content: '▸';
  color: var(--soft-ink);
}

[open] > summary::before {
  content: '▾';
}

h2 {
  margin: 0;
  border: 0;
}

@media print {
  .folded::details-content {
    content-visibility: visible;
  }
}
</style>
