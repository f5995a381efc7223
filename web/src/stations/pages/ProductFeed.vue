<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { api, data } from '@/api/client'

/** The shop's products for its own site and for others, at addresses only its key opens. */
const queries = useQueryClient()
const feed = useQuery({
  queryKey: ['shop-feed'],
  queryFn: () => data(api.GET('/api/shop-feed')),
})
const onSettled = () => queries.invalidateQueries({ queryKey: ['shop-feed'] })
const open = useMutation({ mutationFn: () => data(api.POST('/api/shop-feed')), onSettled })
const close = useMutation({
  mutationFn: () => data(api.DELETE('/api/shop-feed')),
  onSuccess: () => open.reset(),
  onSettled,
})
</script>

<template>
  <section aria-labelledby="feed">
    <h2 id="feed">Product feed</h2>
    <p class="soft intro">
      Every piece in stock with price, stock, bar code, pictures and measured figures, for a web
      shop to fetch. Anyone with the address can read it; a new address replaces the old one.
    </p>
    <template v-if="open.data.value">
      <p class="small">Copy these now; they are not shown again.</p>
      <input :value="open.data.value.csv" readonly aria-label="Address of the feed as CSV" />
      <input
        :value="open.data.value.json_address"
        readonly
        aria-label="Address of the feed as JSON"
      />
    </template>
    <p class="buttons">
      <v-btn v-needs="'set'" :loading="open.isPending.value" @click="open.mutate()">
        {{ feed.data.value?.is_open ? 'Make a new address' : 'Open the feed' }}
      </v-btn>
      <button
        v-if="feed.data.value?.is_open"
        v-needs="'set'"
        type="button"
        class="plain link small"
        @click="close.mutate()"
      >
        close the feed
      </button>
      <span v-if="open.error.value ?? close.error.value" class="rust" role="alert"
        >⚠ {{ (open.error.value ?? close.error.value)?.message }}</span
      >
    </p>
  </section>
</template>

<style scoped>
section {
  margin-top: 26px;
  display: grid;
  gap: 8px;
}

p {
  margin: 0;
}
</style>
