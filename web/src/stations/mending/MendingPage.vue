<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, data, Problem } from '@/api/client'
import type { components } from '@/api/schema'
import OfficeTabs from '@/parts/OfficeTabs.vue'
import StateNote from '@/parts/StateNote.vue'
import AmendmentList from './AmendmentList.vue'
import ModelForm from './ModelForm.vue'

/** Makers and models as the record calls them: rename, edit, merge, retire, and take it back. */
type MakerRow = components['schemas']['MendableMaker']
const MOST_SHOWN = 200

const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const query = useQuery({
  queryKey: ['mendable'],
  queryFn: () => data(api.GET('/api/mending')),
})
const search = ref('')
const chosen = computed(() => Number(route.query.model) || null)
const choose = (model: number) => router.replace({ query: { ...route.query, model } })

const words = computed(() => search.value.toLowerCase().split(/\s+/).filter(Boolean))
const groups = computed(() => {
  const { makers, models } = query.data.value ?? { makers: [], models: [] }
  const fitting = models.filter((m) =>
    words.value.every((word) => m.name.toLowerCase().includes(word)),
  )
  return makers
    .map((maker) => ({ maker, models: fitting.filter((m) => m.maker_id === maker.id) }))
    .filter((group) => group.models.length || !words.value.length)
    .slice(0, MOST_SHOWN)
})

const renamed = ref<MakerRow | null>(null)
const name = ref('')
const into = ref<number | null>(null)
function begin(maker: MakerRow): void {
  renamed.value = renamed.value?.id === maker.id ? null : maker
  name.value = maker.name
  into.value = null
}
const mend = useMutation({
  mutationFn: (maker: MakerRow) =>
    into.value
      ? data(
          api.POST('/api/mending/makers/{maker_id}/merge', {
            params: { path: { maker_id: maker.id } },
            body: { into: into.value, reason: '' },
          }),
        )
      : data(
          api.PATCH('/api/mending/makers/{maker_id}', {
            params: { path: { maker_id: maker.id }, header: { 'If-Match': maker.etag } },
            body: { name: name.value, reason: '' },
          }),
        ),
  onSuccess: () => (renamed.value = null),
  onSettled: () => queries.invalidateQueries(),
})
const wrong = computed(() => {
  const error = mend.error.value
  return error instanceof Problem && error.errors[0] ? error.errors[0].message : error?.message
})
</script>

<template>
  <OfficeTabs />
  <StateNote
    v-if="!query.data.value"
    :error="query.error.value"
    waiting="Fetching makers and models…"
    :retry="() => query.refetch()"
  />
  <p v-else-if="!query.data.value.makers.length" class="soft">
    No model is entered yet. <RouterLink to="/bench">Begin at the Bench</RouterLink>, or
    <RouterLink to="/office/in">import a list</RouterLink>.
  </p>
  <div v-else class="mending">
    <section aria-label="Makers and models" class="list">
      <v-text-field v-model="search" label="Search" clearable hide-details />
      <div v-for="{ maker, models } in groups" :key="maker.id" class="maker">
        <p class="name">
          <b>{{ maker.name }}</b>
          <button
            v-needs="'measure'"
            type="button"
            class="plain link small"
            :aria-expanded="renamed?.id === maker.id"
            :aria-label="`Rename or merge ${maker.name}`"
            @click="begin(maker)"
          >
            rename or merge
          </button>
        </p>
        <form v-if="renamed?.id === maker.id" class="rename" @submit.prevent="mend.mutate(maker)">
          <label>
            <span class="soft">Name</span>
            <input v-model="name" maxlength="80" :disabled="into !== null" />
          </label>
          <label>
            <span class="soft">or the same as</span>
            <select v-model="into">
              <option :value="null">no other maker</option>
              <option
                v-for="other in query.data.value.makers.filter((m) => m.id !== maker.id)"
                :key="other.id"
                :value="other.id"
              >
                {{ other.name }}
              </option>
            </select>
          </label>
          <v-btn type="submit" :loading="mend.isPending.value">
            {{ into ? 'Merge' : 'Rename' }}
          </v-btn>
          <p v-if="wrong" class="rust" role="alert">⚠ {{ wrong }}</p>
        </form>
        <ul>
          <li v-for="model in models" :key="model.id">
            <button
              type="button"
              class="plain model"
              :aria-current="chosen === model.id"
              @click="choose(model.id)"
            >
              {{ model.name.replace(`${maker.name} `, '') }}
              <span class="soft small">
                {{ model.pieces }} {{ model.pieces === 1 ? 'piece' : 'pieces'
                }}{{ model.retired ? ', retired' : '' }}
              </span>
            </button>
          </li>
        </ul>
      </div>
    </section>
    <section class="one">
      <ModelForm
        v-if="chosen"
        :key="chosen"
        :model-id="chosen"
        :others="query.data.value.models"
        :makers="query.data.value.makers.map((m) => m.name)"
        @merged="choose"
      />
      <p v-else class="soft">
        Choose a model to change its name, grind, steel, price or claims. Earlier values stay in the
        list below and can be restored.
      </p>
      <AmendmentList />
    </section>
  </div>
</template>

<style scoped>
.mending {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
  gap: 40px;
}

.list {
  max-height: calc(100vh - 200px);
  overflow-y: auto;
}

.name {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  margin: 12px 0 2px;
  border-bottom: 1px solid var(--hairline);
}

ul {
  list-style: none;
  padding: 0;
  margin: 0;
}

.model {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  width: 100%;
  text-align: left;
  padding: 4px 6px;
}

.model[aria-current='true'] {
  background: var(--panel);
  box-shadow: inset 3px 0 var(--measured);
}

.rename {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: end;
  padding: 6px 0;
}

.rename label {
  display: grid;
}

@media (max-width: 899px) {
  .mending {
    grid-template-columns: 1fr;
  }

  .list {
    max-height: 320px;
  }
}
</style>
