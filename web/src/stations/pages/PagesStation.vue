<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { addressOf } from '@/api/base'
import { useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import type { PageKind, PageRow, RangeContent } from '@/api/schema'
import OfficeTabs from '@/parts/OfficeTabs.vue'
import StateNote from '@/parts/StateNote.vue'
import { aRange, useWriting } from '@/parts/writing'
import ProductFeed from './ProductFeed.vue'
import ScoreScales from './ScoreScales.vue'
import { inOrder, standingText } from './writing'
import { momentText } from '@/parts/moments'

/** Everything the shop writes for readers: what is published, and what is being worked on. */
const queries = useQueryClient()
const { catalogue } = useCatalogue()
const pages = useQuery({ queryKey: ['pages'], queryFn: () => data(api.GET('/api/pages')) })
const rows = computed(() => inOrder(pages.data.value ?? []))
const begin = useWriting()
const search = ref('')
const types = ref<NonNullable<RangeContent['knife_types']>>([])
const choices = computed(() =>
  (catalogue.value?.knife_types ?? []).map((t) => ({ value: t.key as string, title: t.label })),
)
const KINDS: Record<PageKind, string> = {
  review: 'review',
  comparison: 'comparison',
  range: 'range',
}
const withdrawing = ref<PageRow | null>(null)
const reason = ref('')
const withdraw = useMutation({
  mutationFn: (row: PageRow) =>
    data(
      api.POST('/api/pages/{page_id}/withdraw', {
        params: { path: { page_id: row.id } },
        body: { reason: reason.value.trim() },
      }),
    ),
  onSuccess: () => {
    withdrawing.value = null
    reason.value = ''
  },
  onSettled: () => queries.invalidateQueries({ queryKey: ['pages'] }),
})
const fails = computed(() => begin.error.value ?? withdraw.error.value)
</script>

<template>
  <OfficeTabs />
  <StateNote
    v-if="!pages.data.value"
    :error="pages.error.value"
    waiting="Fetching the list of pages…"
    :retry="() => pages.refetch()"
  />
  <template v-else>
    <p v-if="!rows.length" class="soft intro">
      Nothing is written yet. Open a Sheet and choose “Write a review”, lay two knives on the Board
      and choose “write up”, or begin a range below.
    </p>
    <div v-else class="scroll">
      <table>
        <thead>
          <tr>
            <th>page</th>
            <th>kind</th>
            <th>state</th>
            <th>by</th>
            <th>address</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.id">
            <td>
              <RouterLink :to="`/office/pages/${row.id}`">{{ row.title }}</RouterLink>
            </td>
            <td>{{ KINDS[row.kind] }}</td>
            <td>
              <span :class="{ 'grade-M': row.standing?.on }">{{ standingText(row.standing) }}</span>
              <br />
              <span class="soft small">{{ momentText(row.standing?.at ?? row.changed_at) }}</span>
              <span v-if="row.standing?.reason" class="soft small"
                >: {{ row.standing.reason }}</span
              >
            </td>
            <td>{{ row.standing?.by ?? row.person }}</td>
            <td>
              <a v-if="row.standing?.on" :href="addressOf(`/p/${row.address}`)" target="_blank"
                >/p/{{ row.address }}</a
              >
            </td>
            <td>
              <button
                v-if="row.standing?.on"
                v-needs="'set'"
                type="button"
                class="plain link small"
                :aria-label="`Withdraw ${row.title}`"
                @click="withdrawing = row"
              >
                withdraw
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <form
      v-if="withdrawing"
      class="withdraw buttons"
      aria-label="Withdraw a page"
      @submit.prevent="withdraw.mutate(withdrawing)"
    >
      <v-text-field
        v-model="reason"
        v-focus
        :label="`Why is “${withdrawing.title}” withdrawn?`"
        placeholder="shown in this list only; optional"
        maxlength="200"
      />
      <v-btn type="submit" color="primary" variant="flat" :loading="withdraw.isPending.value"
        >Withdraw</v-btn
      >
      <v-btn variant="text" @click="withdrawing = null">Keep it published</v-btn>
    </form>
    <p v-if="fails" class="rust" role="alert">⚠ {{ fails.message }}</p>
    <p class="soft small">
      Readers follow what is published by the <a :href="addressOf('/p/feed.atom')">Atom feed</a>.
    </p>

    <section v-needs="'advise'" aria-labelledby="range">
      <h2 id="range">New range</h2>
      <p class="soft intro">
        All knives in stock of a maker, a type or a search, in a table that readers can put in
        order.
      </p>
      <form
        class="buttons"
        aria-label="New range"
        @submit.prevent="begin.mutate(aRange(search.trim(), types))"
      >
        <v-text-field v-model="search" label="Maker or search words" maxlength="160" />
        <v-autocomplete v-model="types" :items="choices" label="Types" multiple chips />
        <v-btn type="submit" :loading="begin.isPending.value">Start a draft</v-btn>
      </form>
    </section>
    <ScoreScales />
    <ProductFeed />
  </template>
</template>

<style scoped>
section {
  margin-top: 26px;
}

.buttons > .v-input {
  flex: 1 1 240px;
  max-width: 420px;
}

.withdraw {
  margin: 12px 0;
}
</style>
