<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { labelOf } from '@/api/catalogue'
import { api, data } from '@/api/client'
import { momentText } from '@/parts/moments'

/** Corrections, newest first, each with what it changed and a way back. */
const PAGE = 20
const queries = useQueryClient()
const pages = ref(1)
const query = useQuery({
  queryKey: computed(() => ['amendments', pages.value]),
  queryFn: () =>
    data(
      api.GET('/api/mending/amendments', {
        params: { query: { limit: Math.min(100, PAGE * pages.value) } },
      }),
    ),
})
const undo = useMutation({
  mutationFn: (amendment_id: number) =>
    data(
      api.POST('/api/mending/amendments/{amendment_id}/undo', {
        params: { path: { amendment_id } },
      }),
    ),
  onSettled: () => queries.invalidateQueries(),
})
</script>

<template>
  <section v-if="query.data.value?.total" aria-label="Corrections">
    <h2>Corrections</h2>
    <p v-if="undo.error.value" class="rust" role="alert">⚠ {{ undo.error.value.message }}</p>
    <ol>
      <li v-for="one in query.data.value.amendments" :key="one.id" :class="{ soft: one.undone }">
        <p class="head">
          <b>{{ one.named }}</b>
          {{ labelOf('Act', one.act) }}
          <span class="soft">{{ momentText(one.recorded_at) }}, {{ one.person }}</span>
          <span v-if="one.undone" class="soft">undone</span>
          <button
            v-else
            v-needs="'measure'"
            type="button"
            class="plain link"
            :disabled="undo.isPending.value"
            @click="undo.mutate(one.id)"
          >
            undo
          </button>
        </p>
        <p v-if="one.reason" class="soft">“{{ one.reason }}”</p>
        <p class="small">
          <span v-for="(change, i) in one.changes" :key="i" class="change">
            {{ change.what }}: {{ change.before || 'nothing' }} → {{ change.after || 'nothing' }}
          </span>
          <span v-if="one.moved">{{ one.moved }} more rows changed with it</span>
        </p>
      </li>
    </ol>
    <button
      v-if="query.data.value.amendments.length < Math.min(100, query.data.value.total)"
      type="button"
      class="plain link"
      @click="pages += 1"
    >
      earlier ones
    </button>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  padding: 0;
}

section {
  margin-top: 26px;
}

ol {
  margin: 0;
}

li + li {
  border-top: 1px solid var(--hairline);
}

li {
  padding: 6px 0;
}

li p {
  margin: 0;
}

.head {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
}

.change {
  margin-right: 16px;
}
</style>
