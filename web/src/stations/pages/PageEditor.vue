<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRouter } from 'vue-router'
import { addressOf } from '@/api/base'
import { api, data, Problem } from '@/api/client'
import type { PageOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'
import ComparisonForm from './ComparisonForm.vue'
import PublishBar from './PublishBar.vue'
import RangeForm from './RangeForm.vue'
import ReviewForm from './ReviewForm.vue'

/** A page in the making: its words at the left, what readers will see at the right. */
const props = defineProps<{ pageId: number }>()

const WAIT_MS = 700
const router = useRouter()
const queries = useQueryClient()
const key = computed(() => ['page', props.pageId])
const query = useQuery({
  queryKey: key,
  queryFn: () =>
    data(api.GET('/api/pages/{page_id}', { params: { path: { page_id: props.pageId } } })),
})
const page = computed(() => query.data.value)
const title = ref('')
const content = ref<PageOut['content'] | null>(null)
const etag = ref('')
/** What the server has; what is typed since is sent when the hand rests. */
const stored = ref('')
const drawn = ref(0)
const now = () => JSON.stringify([title.value, content.value])
const unsaved = computed(() => content.value !== null && now() !== stored.value)

function show(found: PageOut): void {
  title.value = found.title
  content.value = JSON.parse(JSON.stringify(found.content)) as PageOut['content']
  etag.value = found.etag
  stored.value = now()
}
watch(page, (found) => found && content.value === null && show(found), { immediate: true })
watch(
  () => props.pageId,
  () => (content.value = null),
)

const save = useMutation({
  mutationFn: () => {
    const sent = now()
    return data(
      api.PUT('/api/pages/{page_id}', {
        params: { path: { page_id: props.pageId }, header: { 'If-Match': etag.value } },
        body: { title: title.value.trim(), content: content.value! },
      }),
    ).then((found) => ({ found, sent }))
  },
  onSuccess: ({ found, sent }) => {
    etag.value = found.etag
    stored.value = sent
    drawn.value += 1
    queries.setQueryData(key.value, found)
  },
})
let timer: ReturnType<typeof setTimeout> | undefined
watch(
  [title, content],
  () => {
    if (!unsaved.value) return
    clearTimeout(timer)
    timer = setTimeout(saveNow, WAIT_MS)
  },
  { deep: true },
)

/** One at a time: what was typed meanwhile goes after it. */
async function saveNow(): Promise<boolean> {
  clearTimeout(timer)
  if (!unsaved.value) return true
  if (save.isPending.value) {
    timer = setTimeout(saveNow, WAIT_MS)
    return false
  }
  await save.mutateAsync().catch(() => undefined)
  return !unsaved.value
}
onBeforeRouteLeave(async () => {
  if (await saveNow()) return true
  return window.confirm('The last change is not saved. Leave anyway?')
})

/** Something that the page shows was changed beside it. */
function lookAgain(): void {
  drawn.value += 1
  void query.refetch()
}

const conflict = computed(
  () => save.error.value instanceof Problem && save.error.value.status === 412,
)
async function takeTheirs(): Promise<void> {
  save.reset()
  const found = (await query.refetch()).data
  if (found) show(found)
}

const discard = useMutation({
  mutationFn: () =>
    data(
      api.DELETE('/api/pages/{page_id}', {
        params: { path: { page_id: props.pageId }, header: { 'If-Match': etag.value } },
      }),
    ),
  onSuccess: () => {
    stored.value = now()
    void queries.invalidateQueries({ queryKey: ['pages'] })
    return router.push('/office/pages')
  },
})
function published(found: PageOut): void {
  queries.setQueryData(key.value, found)
  etag.value = found.etag
  void queries.invalidateQueries({ queryKey: ['pages'] })
}
const files = ['html', 'md', 'txt', 'docx', 'pdf'] as const
</script>

<template>
  <p class="no-print small"><RouterLink to="/office/pages">All pages</RouterLink></p>
  <StateNote
    v-if="!page || !content"
    :error="query.error.value"
    waiting="Fetching the page…"
    :retry="() => query.refetch()"
  />
  <div v-else class="desk">
    <div class="words">
      <v-text-field v-model="title" label="Title" maxlength="160" class="title" />
      <PublishBar
        :page="page"
        :etag="etag"
        :unsaved="unsaved"
        :save="saveNow"
        @published="published"
      />
      <p v-if="conflict" class="rust" role="alert">
        ⚠ Somebody else changed this page. Your text is still here; copy what you need, then
        <button type="button" class="plain link" @click="takeTheirs">load theirs</button>.
      </p>
      <p v-else-if="save.error.value" class="rust" role="alert">
        ⚠ Not saved: {{ save.error.value.message }} What you typed is still here.
      </p>
      <div class="common">
        <v-text-field v-model="content.by" label="By" maxlength="160" placeholder="the shop" />
        <v-checkbox v-model="content.show_people" label="Name who measured" />
        <v-checkbox v-model="content.embed" label="May be shown in a frame elsewhere" />
      </div>
      <p v-if="content.embed && page.standing?.on" class="soft small">
        Frame it elsewhere by <code>/embed/{{ page.address }}</code
        >.
      </p>
      <v-textarea
        v-model="content.intro"
        label="Opening, in your words"
        rows="2"
        auto-grow
        maxlength="6000"
      />
      <ReviewForm
        v-if="content.kind === 'review'"
        v-model="content"
        :page="page"
        @changed="lookAgain"
      />
      <ComparisonForm v-else-if="content.kind === 'comparison'" v-model="content" />
      <RangeForm v-else v-model="content" :columns="page.columns" />
      <p class="small files">
        <span class="soft">As a file:</span>
        <a
          v-for="file in files"
          :key="file"
          :href="addressOf(`/api/pages/${page.id}/page.${file}`)"
          download
          >.{{ file }}</a
        >
      </p>
      <p v-if="!page.standing">
        <button v-needs="'advise'" type="button" class="plain link small" @click="discard.mutate()">
          Delete this draft
        </button>
        <span v-if="discard.error.value" class="rust">{{ discard.error.value.message }}</span>
      </p>
    </div>
    <div class="shown">
      <iframe
        :key="drawn"
        :src="addressOf(`/api/pages/${page.id}/preview`)"
        title="The page as readers see it"
      ></iframe>
    </div>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 6fr) minmax(0, 5fr);
  gap: 28px;
  align-items: start;
}

.words {
  display: grid;
  gap: 12px;
}

.words p {
  margin: 0;
}

.common {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: center;
}

.common > :first-child {
  flex: 1 1 200px;
}

.common > .v-checkbox {
  flex: 0 0 auto;
}

.files {
  display: flex;
  gap: 12px;
}

.shown {
  position: sticky;
  top: 84px;
  height: calc(100vh - 104px);
}

iframe {
  width: 100%;
  height: 100%;
  border: 1px solid var(--hairline);
  border-radius: 3px;
  background: var(--panel);
}

@media (max-width: 999px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }

  .shown {
    position: static;
    height: 70vh;
  }
}
</style>
