<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import type { ComparisonContent } from '@/api/schema'

/** What a comparison shows, and in which order. */
const content = defineModel<ComparisonContent>({ required: true })

const { catalogue } = useCatalogue()
type Part = NonNullable<ComparisonContent['parts']>[number]
const PARTS: Record<Part, string> = {
  verdict: 'Verdict',
  outlines: 'Outlines over each other',
  sections: 'Sections over each other',
  differences: 'What differs',
  force: 'Force to cut',
  edge_life: 'Edge life',
  pages: 'More about these knives',
  glossary: 'How to read this',
}
const shown = computed(() => content.value.parts ?? [])
const others = computed(() =>
  (Object.keys(PARTS) as Part[]).filter((part) => !shown.value.includes(part)),
)
const foods = computed(() =>
  (catalogue.value?.foods ?? []).map((f) => ({ value: f.key as string, title: f.label })),
)
function move(at: number, by: -1 | 1): void {
  const found = [...shown.value]
  const to = at + by
  if (to < 0 || to >= found.length) return
  ;[found[at], found[to]] = [found[to]!, found[at]!]
  content.value.parts = found
}
</script>

<template>
  <section aria-labelledby="shown-head">
    <h2 id="shown-head">Shown</h2>
    <ol class="parts">
      <li v-for="(part, at) in shown" :key="part">
        <span>{{ PARTS[part] }}</span>
        <span class="tools">
          <button
            type="button"
            class="plain link small"
            :disabled="at === 0"
            :aria-label="`Move ${PARTS[part]} up`"
            @click="move(at, -1)"
          >
            up
          </button>
          <button
            type="button"
            class="plain link small"
            :disabled="at === shown.length - 1"
            :aria-label="`Move ${PARTS[part]} down`"
            @click="move(at, 1)"
          >
            down
          </button>
          <button
            type="button"
            class="plain link small"
            :aria-label="`Leave out ${PARTS[part]}`"
            @click="content.parts = shown.filter((p) => p !== part)"
          >
            leave out
          </button>
        </span>
      </li>
    </ol>
    <p v-if="others.length" class="small">
      <span class="soft">Left out:</span>
      <button
        v-for="part in others"
        :key="part"
        type="button"
        class="plain link"
        @click="content.parts = [...shown, part]"
      >
        {{ PARTS[part] }}
      </button>
    </p>
    <v-select v-model="content.food" :items="foods" label="Food of the force chart" />
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 10px;
}

.parts {
  margin: 0;
  padding-left: 22px;
}

.parts > li {
  border-bottom: 1px solid var(--hairline);
  padding: 5px 0;
}

.tools {
  float: right;
  display: flex;
  gap: 14px;
}

p {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 0;
}

button:disabled {
  opacity: 0.45;
  cursor: default;
}
</style>
