<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { addressOf } from '@/api/base'
import { api, data } from '@/api/client'
import { newId } from '@/api/id'
import type { PhotographIn, PhotographOut } from '@/api/schema'
import CropDialog from './CropDialog.vue'
import { reduced } from './photo'

/** Photographs of a knife for readers: in order, each said what it shows, cropped if wanted. */
const props = defineProps<{ pieceId: number }>()
const emit = defineEmits<{ changed: [] }>()

const queries = useQueryClient()
const key = computed(() => ['photographs', props.pieceId])
const path = computed(() => ({ piece_id: props.pieceId }))
const found = useQuery({
  queryKey: key,
  queryFn: () =>
    data(api.GET('/api/pieces/{piece_id}/photographs', { params: { path: path.value } })),
})
const rows = computed(() => found.data.value ?? [])
const typed = reactive<Record<number, Required<PhotographIn>>>({})
watch(
  rows,
  (now) => {
    for (const { id, alt, caption, credit, crop } of now)
      typed[id] ??= { alt, caption, credit, crop }
  },
  { immediate: true },
)
function took(now: PhotographOut[]): void {
  queries.setQueryData(key.value, now)
  emit('changed')
}
const add = useMutation({
  mutationFn: async (file: File) =>
    data(
      api.PUT('/api/pieces/{piece_id}/photographs/{client_id}', {
        params: { path: { ...path.value, client_id: newId() } },
        body: (await reduced(file, 2400)) as never,
        bodySerializer: (blob: unknown) => blob as Blob,
        headers: { 'Content-Type': 'image/jpeg' },
      } as never),
    ) as Promise<PhotographOut[]>,
  onSuccess: took,
})
const change = useMutation({
  mutationFn: (row: PhotographOut) =>
    data(
      api.PUT('/api/photographs/{photograph_id}', {
        params: { path: { photograph_id: row.id }, header: { 'If-Match': row.etag } },
        body: typed[row.id]!,
      }),
    ),
  onSuccess: took,
})
const order = useMutation({
  mutationFn: (ids: number[]) =>
    data(
      api.PUT('/api/pieces/{piece_id}/photographs', {
        params: { path: path.value },
        body: { ids },
      }),
    ),
  onSuccess: took,
})
const drop = useMutation({
  mutationFn: (row: PhotographOut) =>
    data(
      api.DELETE('/api/photographs/{photograph_id}', {
        params: { path: { photograph_id: row.id } },
      }),
    ),
  onSuccess: (_, row) => took(rows.value.filter((other) => other.id !== row.id)),
})
async function chosen(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const files = [...(input.files ?? [])]
  input.value = ''
  for (const file of files) await add.mutateAsync(file).catch(() => undefined)
}
function earlier(at: number): void {
  const ids = rows.value.map((row) => row.id)
  ;[ids[at - 1], ids[at]] = [ids[at]!, ids[at - 1]!]
  order.mutate(ids)
}
const differs = (row: PhotographOut) => {
  const now = typed[row.id]
  return (
    !!now &&
    (now.alt !== row.alt ||
      now.caption !== row.caption ||
      now.credit !== row.credit ||
      JSON.stringify(now.crop) !== JSON.stringify(row.crop))
  )
}
const cropping = ref<PhotographOut | null>(null)
/** How much of a photograph is shown, as its form has it. */
const shown = (id: number) => {
  const crop = typed[id]?.crop
  return crop ? `${Math.round(100 * crop[2]! * crop[3]!)} % shown` : 'shown in full'
}
function cropTo(crop: number[] | null): void {
  const known = cropping.value && typed[cropping.value.id]
  if (known) known.crop = crop
  cropping.value = null
}
const fails = computed(
  () => add.error.value ?? change.error.value ?? order.error.value ?? drop.error.value,
)
</script>

<template>
  <section aria-labelledby="photographs" class="no-print">
    <h2 id="photographs">Photographs for readers</h2>
    <ol v-if="rows.length">
      <li v-for="(row, at) in rows" :key="row.id">
        <img
          :src="addressOf(`/api/photographs/${row.id}/480.webp?v=${row.version}`)"
          :alt="row.alt || `Photograph ${at + 1}`"
        />
        <form
          v-if="typed[row.id]"
          :aria-label="`Photograph ${at + 1}`"
          @submit.prevent="change.mutate(row)"
        >
          <v-text-field
            v-model="typed[row.id]!.alt"
            label="Description for those who cannot see it"
            maxlength="300"
          />
          <v-text-field v-model="typed[row.id]!.caption" label="Caption" maxlength="300" />
          <div class="two">
            <v-text-field v-model="typed[row.id]!.credit" label="Taken by" maxlength="120" />
            <p class="small soft crop">
              {{ shown(row.id) }}
              <button
                v-needs="'advise'"
                type="button"
                class="plain link"
                :aria-label="`Crop photograph ${at + 1}`"
                @click="cropping = row"
              >
                crop
              </button>
            </p>
          </div>
          <p class="tools small">
            <v-btn
              v-needs="'advise'"
              type="submit"
              :disabled="!differs(row)"
              :loading="change.isPending.value"
              >Save</v-btn
            >
            <span v-if="!row.alt" class="rust">⚠ Needs a description before publishing</span>
            <button
              v-if="at > 0"
              v-needs="'advise'"
              type="button"
              class="plain link"
              :aria-label="`Move photograph ${at + 1} forward`"
              @click="earlier(at)"
            >
              move forward
            </button>
            <button
              v-needs="'advise'"
              type="button"
              class="plain link"
              :aria-label="`Remove photograph ${at + 1} away`"
              @click="drop.mutate(row)"
            >
              remove
            </button>
          </p>
        </form>
      </li>
    </ol>
    <p v-else-if="found.data.value" class="soft">
      No photographs yet. The first one leads a review. Location and personal data in the file are
      removed.
    </p>
    <p class="tools">
      <label v-needs="'advise'" class="link">
        Add photographs
        <input
          type="file"
          class="visually-hidden"
          accept="image/jpeg,image/png,image/webp"
          multiple
          @change="chosen"
        />
      </label>
      <span v-if="add.isPending.value" class="soft" role="status">Storing…</span>
      <span v-if="fails" class="rust" role="alert">⚠ {{ fails.message }}</span>
    </p>
    <CropDialog
      v-if="cropping"
      :src="addressOf(`/api/photographs/${cropping.id}/960.webp?whole=true`)"
      :alt="cropping.alt || 'The photograph'"
      :crop="typed[cropping.id]?.crop ?? null"
      @chosen="cropTo"
      @cancel="cropping = null"
    />
  </section>
</template>

<style scoped>
section {
  margin: 18px 0;
}

ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 420px), 1fr));
  gap: 18px 28px;
}

li {
  display: grid;
  grid-template-columns: 140px minmax(0, 1fr);
  gap: 14px;
  align-items: start;
}

img {
  width: 140px;
  border: 1px solid var(--hairline);
  border-radius: 3px;
}

form {
  display: grid;
  gap: 8px;
}

.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}

.crop {
  margin: 0;
  align-self: center;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  margin: 0;
}

.tools label {
  cursor: pointer;
}

label:has(:focus-visible) {
  outline: 2px solid var(--measured);
  outline-offset: 2px;
}

@media (max-width: 699px) {
  li {
    grid-template-columns: 1fr;
  }
}
</style>
