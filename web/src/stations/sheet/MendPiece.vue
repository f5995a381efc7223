<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, data, Problem } from '@/api/client'
import NamedField from '@/parts/NamedField.vue'

/** A piece that was entered wrong: another tag, note or model, or one with another piece. */
const props = defineProps<{ pieceId: number; modelId: number }>()
const open = ref(false)
const queries = useQueryClient()

const piece = useQuery({
  queryKey: computed(() => ['piece-record', props.pieceId]),
  enabled: open,
  queryFn: () =>
    data(
      api.GET('/api/mending/pieces/{piece_id}', { params: { path: { piece_id: props.pieceId } } }),
    ),
})
const start = useQuery({
  queryKey: ['bench'],
  enabled: open,
  queryFn: () => data(api.GET('/api/bench')),
})
const tag = ref('')
const condition = ref('')
const note = ref('')
const model = ref<number | string | null>(null)
const reason = ref('')
const same = ref('')
watch(
  () => piece.data.value,
  (now) => {
    if (!now) return
    tag.value = now.tag
    condition.value = now.condition
    note.value = now.note
    model.value = now.model_id
  },
)
const models = computed(() =>
  (start.data.value?.models ?? []).map((m) => ({ value: m.id, title: m.name })),
)
const here = () => ({ path: { piece_id: props.pieceId } })
const save = useMutation({
  mutationFn: () =>
    data(
      api.PATCH('/api/mending/pieces/{piece_id}', {
        params: { ...here(), header: { 'If-Match': piece.data.value?.etag ?? '' } },
        body: {
          tag: tag.value,
          condition: condition.value as 'new' | 'used',
          note: note.value,
          model_id: Number(model.value ?? props.modelId),
          reason: reason.value,
        },
      }),
    ),
  onSuccess: () => (open.value = false),
  onSettled: () => queries.invalidateQueries(),
})
const merge = useMutation({
  mutationFn: async () => {
    const other = await data(
      api.GET('/api/bench/label', { params: { query: { code: same.value } } }),
    )
    await data(
      api.POST('/api/mending/pieces/{piece_id}/merge', {
        params: here(),
        body: { into: other.piece_id, reason: reason.value },
      }),
    )
    return other.tag
  },
  onSuccess: () => (open.value = false),
  onSettled: () => queries.invalidateQueries(),
})
const wrong = computed(() => {
  const error = save.error.value ?? merge.error.value
  return error instanceof Problem && error.errors[0] ? error.errors[0].message : error?.message
})
</script>

<template>
  <section v-needs="'measure'" class="mend no-print" aria-label="Mend">
    <button type="button" class="plain link" :aria-expanded="open" @click="open = !open">
      Correct this piece
    </button>
    <RouterLink :to="{ path: '/office/models', query: { model: modelId } }"
      >Correct its model</RouterLink
    >
    <form v-if="open && piece.data.value" @submit.prevent="save.mutate()">
      <v-text-field v-model="tag" label="Piece tag" maxlength="40" />
      <v-select v-model="condition" :items="['new', 'used']" label="Condition" />
      <NamedField v-model="model" :items="models" label="Model" class="wide" />
      <v-textarea v-model="note" label="Note" maxlength="2000" rows="2" class="wide" />
      <v-text-field v-model="reason" label="Why, if you like" maxlength="200" class="wide" />
      <p v-if="wrong" class="rust wide" role="alert"><b>⚠ Nothing was changed.</b> {{ wrong }}</p>
      <p class="wide buttons">
        <v-btn type="submit" color="primary" variant="flat" :loading="save.isPending.value">
          Save the change
        </v-btn>
        <v-btn variant="text" @click="open = false">Cancel</v-btn>
      </p>
      <p class="wide buttons">
        <v-text-field v-model="same" label="It is the same knife as, by tag" maxlength="40" />
        <v-btn :disabled="!same.trim()" :loading="merge.isPending.value" @click="merge.mutate()">
          Merge
        </v-btn>
      </p>
    </form>
  </section>
</template>

<style scoped>
.mend > * {
  margin-right: 16px;
}

form {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
  max-width: 640px;
  margin: 10px 0;
}

.wide {
  grid-column: 1 / -1;
}
</style>
