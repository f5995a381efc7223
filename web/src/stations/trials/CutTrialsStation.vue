<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, data } from '@/api/client'
import type { WholeCutSession } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'
import CutSessionPanel from './CutSessionPanel.vue'
import FoodFits from './FoodFits.vue'
import NewCutTrial from './NewCutTrial.vue'
import { cutsChanged } from './trials'
import { dayText } from '@/parts/moments'

/** Cut trials: sessions of several knives and foods, and what they say of the foods. */
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const list = useQuery({
  queryKey: ['cut-trials', 'list'],
  queryFn: () => data(api.GET('/api/cut-trials')),
})
const foods = computed(() => route.query.part === 'foods')
const beginning = ref(route.query.new !== undefined)
const opened = computed(
  () => Number(route.query.session) || list.data.value?.sessions[0]?.id || undefined,
)
const session = useQuery({
  queryKey: computed(() => ['cut-trials', opened.value]),
  enabled: computed(() => opened.value !== undefined),
  queryFn: () =>
    data(
      api.GET('/api/cut-trials/{session_id}', {
        params: { path: { session_id: opened.value ?? 0 } },
      }),
    ),
})

function open(id: number): void {
  beginning.value = false
  void router.replace({ query: { session: String(id) } })
}
function begun(made: WholeCutSession): void {
  cutsChanged(queries, made)
  open(made.id)
}
</script>

<template>
  <StateNote
    v-if="!list.data.value"
    :error="list.error.value"
    waiting="Fetching the cut trials…"
    :retry="() => list.refetch()"
  />
  <div v-else>
    <nav class="tabs" aria-label="Cut trials">
      <RouterLink to="/trials">‹ Trials</RouterLink>
      <RouterLink
        to="/trials/cuts"
        class="room"
        :class="{ on: !foods }"
        :aria-current="foods ? undefined : 'page'"
        >Sessions <span class="soft">{{ list.data.value.sessions.length }}</span></RouterLink
      >
      <RouterLink
        to="/trials/cuts?part=foods"
        class="room"
        :class="{ on: foods }"
        :aria-current="foods ? 'page' : undefined"
        >Foods, before and after</RouterLink
      >
      <v-btn v-needs="'measure'" variant="flat" color="primary" @click="beginning = true"
        >New cut trial</v-btn
      >
    </nav>
    <NewCutTrial v-if="beginning" @begun="begun" @leave="beginning = false" />
    <FoodFits v-else-if="foods" />
    <div v-else-if="list.data.value.sessions.length" class="beside">
      <section aria-label="Sessions">
        <ul class="plain-list">
          <li
            v-for="one in list.data.value.sessions"
            :key="one.id"
            :class="{ here: one.id === opened }"
          >
            <button type="button" class="plain" @click="open(one.id)">
              <b>{{ dayText(one.started_at) }}</b>
              <span>{{ one.knives.join(', ') || 'no cut yet' }}</span>
              <span class="soft small">{{ one.foods.join(', ') }}</span>
              <span class="soft small">{{ one.cuts }} cuts, {{ one.person }}</span>
            </button>
          </li>
        </ul>
      </section>
      <StateNote
        v-if="!session.data.value"
        :error="session.error.value"
        waiting="Fetching the session…"
        :retry="() => session.refetch()"
      />
      <CutSessionPanel v-else :session="session.data.value" :scale="list.data.value.scale" />
    </div>
    <div v-else class="empty">
      <p>
        No cut trial yet. A load cell or a scale under the board, a few knives, the foods you cut
        most: your own measurements then replace our assumptions.
      </p>
    </div>
  </div>
</template>

<style scoped>
.tabs .v-btn {
  margin-left: auto;
}

.beside {
  display: grid;
  grid-template-columns: 210px minmax(0, 1fr);
  gap: 28px;
  margin-top: 12px;
}

.plain-list {
  list-style: none;
  margin: 0;
  padding: 0;
}

.plain-list button {
  display: grid;
  width: 100%;
  padding: 8px;
  text-align: left;
}

.here {
  background: var(--panel);
}

@media (max-width: 699px) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
