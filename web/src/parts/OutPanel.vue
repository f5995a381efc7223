<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { addressOf } from '@/api/base'
import { api, data } from '@/api/client'
import PrintLabels from '@/parts/PrintLabels.vue'
import StateNote from '@/parts/StateNote.vue'

/** A knife on paper, as files, and as a page that anybody may read. */
const props = defineProps<{ pieceId: number }>()

const queries = useQueryClient()
const found = useQuery({
  queryKey: computed(() => ['public', props.pieceId]),
  queryFn: () =>
    data(
      api.GET('/api/pieces/{piece_id}/public', { params: { path: { piece_id: props.pieceId } } }),
    ),
})
const shown = ref<string[]>([])
const words = ref('')
watch(
  () => found.data.value,
  (now) => {
    shown.value = [...(now?.shown ?? [])]
    words.value = now?.words ?? ''
  },
  { immediate: true },
)
const changed = computed(() => {
  const now = found.data.value
  if (!now) return false
  const same = now.shown.length === shown.value.length
  return !same || now.words !== words.value || now.shown.some((k) => !shown.value.includes(k))
})
const say = useMutation({
  mutationFn: (on: boolean) =>
    data(
      api.PUT('/api/pieces/{piece_id}/public', {
        params: {
          path: { piece_id: props.pieceId },
          header: { 'If-Match': found.data.value?.etag ?? '' },
        },
        body: { on, shown: shown.value, words: words.value },
      }),
    ),
  onSuccess: (now) => queries.setQueryData(['public', props.pieceId], now),
})
const groups = computed(() => [
  { name: 'Shown', choices: found.data.value?.choices.filter((c) => c.group) ?? [] },
  { name: 'Measured figures', choices: found.data.value?.choices.filter((c) => !c.group) ?? [] },
])
const files = computed(() => [
  { href: addressOf(`/api/pieces/${props.pieceId}/card.pdf`), name: 'spec card .pdf' },
  { href: addressOf(`/api/pieces/${props.pieceId}/product.jsonld`), name: 'product data .jsonld' },
  { href: addressOf(`/api/pieces/${props.pieceId}/outline.dxf`), name: 'outlines .dxf' },
  {
    href: addressOf(`/api/pieces/${props.pieceId}/script.txt`),
    name: 'script to read aloud .txt',
  },
])
</script>

<template>
  <section aria-labelledby="out" class="out no-print">
    <h2 id="out">Out of the shop</h2>
    <p class="files">
      <a v-for="file in files" :key="file.href" :href="file.href" download>{{ file.name }}</a>
      <PrintLabels :href="addressOf(`/api/labels.pdf?piece=${pieceId}`)" text="shelf label .pdf" />
    </p>
    <StateNote
      v-if="!found.data.value"
      :error="found.error.value"
      waiting="Looking whether it has a page…"
      :retry="() => found.refetch()"
    />
    <details v-else>
      <summary>
        <template v-if="found.data.value.on">
          <span class="grade-M">● Its public page is live</span>
          <a :href="addressOf(`/k/${found.data.value.address}`)" target="_blank"
            >/k/{{ found.data.value.address }}</a
          >
        </template>
        <span v-else class="soft">○ Not published. Choose what its public page shows</span>
      </summary>
      <form v-needs="'set'" @submit.prevent="say.mutate(true)">
        <fieldset v-for="group in groups" :key="group.name">
          <legend class="soft small">{{ group.name }}</legend>
          <label v-for="choice in group.choices" :key="choice.key">
            <input v-model="shown" type="checkbox" :value="choice.key" /> {{ choice.label }}
          </label>
        </fieldset>
        <label class="words">
          <span class="soft small">Introduction above the figures</span>
          <textarea v-model="words" rows="2" maxlength="600"></textarea>
        </label>
        <p class="soft small">
          Name, type, grind, condition, tag and cautions are always shown. Nothing else is shown
          unless you tick it.
        </p>
        <p v-if="say.error.value" class="rust" role="alert">⚠ {{ say.error.value.message }}</p>
        <div class="buttons">
          <v-btn
            type="submit"
            color="primary"
            variant="flat"
            :disabled="found.data.value.on && !changed"
            :loading="say.isPending.value"
          >
            {{
              found.data.value.on
                ? changed
                  ? 'Update the page'
                  : 'Page is up to date'
                : 'Publish the page'
            }}
          </v-btn>
          <v-btn v-if="found.data.value.on" @click="say.mutate(false)">Unpublish the page</v-btn>
        </div>
      </form>
    </details>
  </section>
</template>

<style scoped>
.out {
  margin: 18px 0;
  scroll-margin-top: 90px;
}

.files {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 0 0 8px;
}

summary a {
  margin-left: 12px;
}

fieldset {
  border: 0;
  margin: 8px 0 0;
  padding: 0;
  columns: 4 220px;
}

fieldset label {
  display: block;
  break-inside: avoid;
  padding: 2px 0;
}

.words {
  display: grid;
  gap: 2px;
  margin: 10px 0 6px;
  max-width: 84ch;
}
</style>
