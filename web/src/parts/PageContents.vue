<script setup lang="ts">
import { onMounted, onUnmounted, ref, shallowRef, useTemplateRef } from 'vue'

/** What the page around it holds, in a line that stays in sight: its second headings, to go to. */

interface Entry {
  text: string
  heading: HTMLElement
}

const entries = shallowRef<Entry[]>([])
const current = ref(0)
const line = useTemplateRef('line')
const watched = new MutationObserver(collect)

/** Below the strip and this line. */
const HIDDEN_PX = 124

function collect(): void {
  const page = line.value?.parentElement
  const found = [...(page?.querySelectorAll<HTMLElement>('h2') ?? [])]
    .filter((heading) => !heading.closest('header, aside'))
    .map((heading) => ({ text: nameOf(heading), heading }))
  const same = (entry: Entry, i: number) =>
    entry.heading === entries.value[i]?.heading && entry.text === entries.value[i].text
  if (found.length === entries.value.length && found.every(same)) return
  entries.value = found
  follow()
}

/** What a heading says itself, without the remarks that stand behind it. */
const nameOf = (heading: HTMLElement) =>
  [...heading.childNodes].find((n) => n.nodeType === Node.TEXT_NODE)?.textContent?.trim() ?? ''

function follow(): void {
  const passed = entries.value.filter(
    ({ heading }) => heading.getBoundingClientRect().top < HIDDEN_PX + 8,
  )
  current.value = Math.max(0, passed.length - 1)
}

function go(entry: Entry): void {
  entry.heading.closest('details')?.setAttribute('open', '')
  entry.heading.tabIndex = -1
  entry.heading.focus({ preventScroll: true })
  scrollBy({ top: entry.heading.getBoundingClientRect().top - HIDDEN_PX + 4 })
}

onMounted(() => {
  collect()
  const page = line.value?.parentElement
  if (page) watched.observe(page, { childList: true, subtree: true })
  addEventListener('scroll', follow, { passive: true })
})
onUnmounted(() => {
  watched.disconnect()
  removeEventListener('scroll', follow)
})
</script>

<template>
  <nav ref="line" class="contents no-print" aria-label="On this page">
    <button
      v-for="(entry, i) in entries"
      :key="entry.text"
      type="button"
      class="plain"
      :aria-current="i === current ? 'true' : undefined"
      @click="go(entry)"
    >
      {{ entry.text }}
    </button>
  </nav>
</template>

<style scoped>
.contents {
  position: sticky;
  top: 68px;
  z-index: 5;
  display: flex;
  gap: 2px 13px;
  overflow-x: auto;
  scrollbar-width: none;
  min-height: 34px;
  padding: 6px 0;
  margin: 4px 0 0;
  border-bottom: 1px solid var(--hairline);
  background: var(--ground);
}

button {
  white-space: nowrap;
  color: var(--soft-ink);
  font-size: var(--size-s);
  padding: 2px 0;
}

button[aria-current] {
  color: var(--ink);
  font-weight: 600;
  box-shadow: 0 2px 0 var(--measured);
}
</style>
