<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { computed } from 'vue'
import { addressOf } from '@/api/base'
import { api, data } from '@/api/client'
import type { PageOut } from '@/api/schema'
import { standingText } from './writing'
import { momentText } from '@/parts/moments'

/** Where a page stands, what is still missing, and what changed since it was published. */
const props = defineProps<{
  page: PageOut
  etag: string
  unsaved: boolean
  save: () => Promise<boolean>
}>()
const emit = defineEmits<{ published: [page: PageOut] }>()

const publish = useMutation({
  mutationFn: async () => {
    if (!(await props.save())) throw new Error('The last change is not saved yet.')
    return data(
      api.POST('/api/pages/{page_id}/publish', {
        params: { path: { page_id: props.page.id }, header: { 'If-Match': props.etag } },
      }),
    )
  },
  onSuccess: (found) => emit('published', found),
})
const on = computed(() => props.page.standing?.on ?? false)
const moved = computed(() => props.page.since.filter((s) => s.moved))
const worded = computed(() => props.page.since.filter((s) => !s.moved))
</script>

<template>
  <div class="bar" aria-label="Publishing" role="group">
    <p>
      <b :class="{ 'grade-M': on }">{{ standingText(page.standing, page.changed) }}</b>
      <span v-if="page.standing" class="soft small">
        {{ momentText(page.standing.at) }}, {{ page.standing.by }}</span
      >
      <a v-if="on" :href="addressOf(`/p/${page.address}`)" target="_blank" class="small"
        >/p/{{ page.address }}</a
      >
      <span class="soft small saved" role="status">{{
        unsaved ? 'Saving…' : 'All changes saved'
      }}</span>
    </p>
    <p v-if="page.missing.length" class="small line">
      <span class="rust">⚠ Before it can be published, say</span> {{ page.missing.join(', ') }}.
    </p>
    <div v-if="page.since.length" class="small">
      Since then:
      <ul>
        <li v-for="s in moved" :key="`${s.key}${s.then}`" class="rust">
          ⚠ {{ s.label }}: {{ s.then }} on the page, {{ s.now }} now
        </li>
        <li v-for="s in worded" :key="`${s.key}${s.then}`" class="soft">
          {{ s.label }}: {{ s.then }} on the page, {{ s.now }} now; the same within measurement
        </li>
      </ul>
    </div>
    <p class="buttons">
      <v-btn
        v-needs="'set'"
        color="primary"
        variant="flat"
        :disabled="page.missing.length > 0 || (on && !page.changed && !unsaved)"
        :loading="publish.isPending.value"
        @click="publish.mutate()"
      >
        {{ on ? 'Publish the changes' : 'Publish' }}
      </v-btn>
      <span v-if="publish.error.value" class="rust" role="alert"
        >⚠ {{ publish.error.value.message }}</span
      >
    </p>
  </div>
</template>

<style scoped>
.bar {
  display: grid;
  gap: 6px;
  border: 1px solid var(--hairline);
  border-radius: 3px;
  background: var(--panel);
  padding: 10px 14px;
}

p,
ul {
  margin: 0;
}

.bar > p:not(.line) {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
}

.saved {
  margin-left: auto;
}
</style>
