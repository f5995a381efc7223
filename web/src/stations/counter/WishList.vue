<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import { startFrom } from '@/parts/profile'
import { wantedText } from '@/parts/wanted'

/** Customers for whom nothing suited, and the knives in stock that answer their wishes today. */
const KEY = ['counter', 'wishes']
const queries = useQueryClient()
const query = useQuery({
  queryKey: KEY,
  queryFn: () => data(api.GET('/api/counter/wishes')),
})
const wishes = computed(() => query.data.value ?? [])
const forgetting = useMutation({
  mutationFn: (id: number) =>
    data(api.DELETE('/api/counter/wishes/{wish_id}', { params: { path: { wish_id: id } } })),
  onSuccess: (left) => queries.setQueryData(KEY, left),
})
</script>

<template>
  <section v-if="wishes.length" aria-label="Wishes" class="wishes no-print">
    <h3>Wishes</h3>
    <ul>
      <li v-for="wish in wishes" :key="wish.id">
        <button
          type="button"
          class="plain label"
          title="this customer again"
          @click="startFrom(wish.profile)"
        >
          {{ wish.profile.label }}
        </button>
        <span class="soft small">{{ wantedText(wish.wanted).join(' · ') }}</span>
        <p v-if="wish.matches.length">
          <b>Matched by</b>
          <template v-for="(k, i) in wish.matches" :key="k.piece_id"
            >{{ i ? ', ' : ' '
            }}<RouterLink :to="`/sheet/${k.piece_id}`">{{ k.name }}</RouterLink></template
          >.
        </p>
        <p v-else class="soft">Nothing in stock matches yet.</p>
        <button
          v-needs="'advise'"
          type="button"
          class="plain soft small"
          :aria-label="`Delete the wish of ${wish.profile.label}`"
          @click="forgetting.mutate(wish.id)"
        >
          forget
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.wishes {
  margin: 12px 0;
}

h3 {
  margin: 0 0 4px;
  font-size: var(--size-m);
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  padding: 6px 0;
  border-bottom: 1px solid var(--hairline);
}

p {
  margin: 2px 0;
}

.label {
  font-weight: 600;
  margin-right: 10px;
}
</style>
