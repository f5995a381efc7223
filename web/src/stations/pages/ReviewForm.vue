<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import type { PageOut, PartIn, ReviewContent, ReviewPointIn, ScoreIn } from '@/api/schema'
import PhotographPanel from '@/parts/PhotographPanel.vue'
import DisclosureForm from './DisclosureForm.vue'
import { inserted, moved, silent, unknownFigures } from './writing'

/** A review part by part: the draft's words or one's own, points, scores and the disclosure. */
const props = defineProps<{ page: PageOut }>()
const content = defineModel<ReviewContent>({ required: true })
const emit = defineEmits<{ changed: [] }>()

useCatalogue()
const byPart = computed(
  () =>
    new Map<string, (typeof props.page.parts)[number]>(props.page.parts.map((p) => [p.part, p])),
)
const empty = computed(() => silent(content.value, props.page))
const keys = computed(() => props.page.figures.map((f) => f.key))
const figures = computed(() =>
  props.page.figures.map((f) => ({ value: f.key, title: `${f.label}: ${f.text}` })),
)
const parts = computed(() => content.value.parts ?? [])
const labelled = (part: PartIn) => byPart.value.get(part.part)?.label ?? part.part

function rewrite(part: PartIn): void {
  part.text = byPart.value.get(part.part)?.draft ?? ''
  void nextTick(() => document.getElementById(`own-${part.part}`)?.focus())
}
function move(at: number, by: -1 | 1): void {
  content.value.parts = moved(parts.value, at, by)
}
/** The draft with its figures filled in, for reading. */
function said(draft: string): string {
  return draft.replace(
    /\{([a-z][a-z0-9_.]*)\}/g,
    (_, key: string) => props.page.figures.find((f) => f.key === key)?.text ?? 'not measured',
  )
}
const wanted = ref<string | null>(null)
function put(part: PartIn): void {
  const field = document.getElementById(`own-${part.part}`)
  if (!wanted.value || !(field instanceof HTMLTextAreaElement)) return
  const { selectionStart: from, selectionEnd: to } = field
  part.text = inserted(part.text ?? '', wanted.value, from, to)
  wanted.value = null
  void nextTick(() => field.focus())
}

/** Points are the proposed ones until the author takes them in hand. */
const points = computed<ReviewPointIn[]>(
  () =>
    content.value.points ?? props.page.points.map(({ key, good, text }) => ({ key, good, text })),
)
const own = () => (content.value.points = points.value.map((p) => ({ ...p })))
const evidence = (key: string) => {
  const [of, ...tags] = props.page.points.find((p) => p.key === key)?.evidence ?? []
  const label = props.page.figures.find((f) => f.key === of)?.label ?? of
  return [label, ...tags].filter(Boolean).join(', ')
}
function say(at: number, text: string): void {
  own()
  content.value.points![at]!.text = text
}
function dropPoint(at: number): void {
  own()
  content.value.points!.splice(at, 1)
}
function addPoint(good: boolean): void {
  own()
  content.value.points!.push({ key: '', good, text: good ? 'For: ' : 'Against: ' })
}

const open = computed(() => props.page.scales.filter((s) => !s.retired))
const score = (id: number) => content.value.scores?.find((s) => s.scale_id === id)
function setScore(id: number, typed: string): void {
  const value = Number(typed.replace(',', '.'))
  const others = (content.value.scores ?? []).filter((s) => s.scale_id !== id)
  const known: ScoreIn | undefined = score(id)
  content.value.scores =
    typed.trim() === '' || Number.isNaN(value)
      ? others
      : [...others, { scale_id: id, value, why: known?.why ?? '' }]
}
function setWhy(id: number, why: string): void {
  const known = score(id)
  if (known) known.why = why
}
</script>

<template>
  <section aria-labelledby="disclosure-head">
    <h2 id="disclosure-head">Disclosure</h2>
    <DisclosureForm v-model="content.disclosure" />
  </section>

  <section aria-labelledby="parts-head">
    <h2 id="parts-head">Parts</h2>
    <p class="soft small">
      The draft’s sentences follow the record until the page is published. In your own words, name a
      figure in braces, such as {weight}, and it does the same.
    </p>
    <ol class="parts">
      <li v-for="(part, at) in parts" :key="part.part">
        <div class="head">
          <v-checkbox v-model="part.shown" :label="labelled(part)" />
          <span v-if="part.text !== null" class="small derived">your words</span>
          <span v-else-if="empty.has(part.part)" class="small soft">nothing in the record</span>
          <span class="tools">
            <button
              type="button"
              class="plain link small"
              :disabled="at === 0"
              :aria-label="`Move ${labelled(part)} up`"
              @click="move(at, -1)"
            >
              up
            </button>
            <button
              type="button"
              class="plain link small"
              :disabled="at === parts.length - 1"
              :aria-label="`Move ${labelled(part)} down`"
              @click="move(at, 1)"
            >
              down
            </button>
            <button
              v-if="part.text === null"
              type="button"
              class="plain link small"
              :aria-label="`Rewrite ${labelled(part)}`"
              @click="rewrite(part)"
            >
              rewrite
            </button>
            <button
              v-else
              type="button"
              class="plain link small"
              :aria-label="`Use the draft for ${labelled(part)}`"
              @click="part.text = null"
            >
              use the draft
            </button>
          </span>
        </div>
        <template v-if="part.shown">
          <template v-if="part.text !== null && part.text !== undefined">
            <textarea
              :id="`own-${part.part}`"
              v-model="part.text"
              rows="5"
              maxlength="6000"
              :aria-label="`${labelled(part)}, in your words`"
              :aria-invalid="unknownFigures(part.text, keys).length > 0"
            ></textarea>
            <div class="put">
              <v-autocomplete
                v-model="wanted"
                :items="figures"
                label="Put in a figure"
                @update:model-value="put(part)"
              />
              <span v-if="unknownFigures(part.text, keys).length" class="rust small" role="alert">
                ⚠ Not known or not measured: {{ unknownFigures(part.text, keys).join(', ') }}
              </span>
            </div>
          </template>
          <p v-else-if="byPart.get(part.part)?.draft" class="draft small">
            {{ said(byPart.get(part.part)!.draft) }}
          </p>
        </template>
      </li>
    </ol>
  </section>

  <section aria-labelledby="points-head">
    <h2 id="points-head">For and against</h2>
    <ul class="points">
      <li v-for="(point, at) in points" :key="at">
        <b :class="point.good ? 'grade-M' : 'rust'" :title="point.good ? 'for' : 'against'">{{
          point.good ? '+' : '−'
        }}</b>
        <div>
          <textarea
            :value="point.text"
            rows="2"
            maxlength="400"
            :aria-label="`${point.good ? 'For' : 'Against'}, point ${at + 1}`"
            @change="say(at, ($event.target as HTMLTextAreaElement).value)"
          ></textarea>
          <span v-if="evidence(point.key)" class="soft small"
            >rests on {{ evidence(point.key) }}</span
          >
        </div>
        <button
          type="button"
          class="plain link small"
          :aria-label="`Leave out point ${at + 1}`"
          @click="dropPoint(at)"
        >
          leave out
        </button>
      </li>
    </ul>
    <p class="buttons">
      <button type="button" class="plain link small" @click="addPoint(true)">
        add a point for
      </button>
      <button type="button" class="plain link small" @click="addPoint(false)">
        add a point against
      </button>
      <button
        v-if="content.points"
        type="button"
        class="plain link small"
        @click="content.points = null"
      >
        use the suggestions
      </button>
    </p>
  </section>

  <v-checkbox v-model="content.photographs" label="Show the photographs" />
  <PhotographPanel
    v-if="content.photographs"
    :piece-id="content.piece_id"
    @changed="emit('changed')"
  />

  <section v-if="open.length" aria-labelledby="scores-head">
    <h2 id="scores-head">Scores</h2>
    <div v-for="scale in open" :key="scale.id" class="score">
      <v-text-field
        :model-value="score(scale.id)?.value ?? ''"
        :label="`${scale.name}, 0 to ${scale.highest}`"
        inputmode="decimal"
        maxlength="5"
        @update:model-value="setScore(scale.id, String($event))"
      />
      <v-text-field
        :model-value="score(scale.id)?.why ?? ''"
        label="Why"
        maxlength="400"
        :disabled="!score(scale.id)"
        @update:model-value="setWhy(scale.id, String($event))"
      />
      <p class="soft small">{{ scale.criteria }}</p>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 14px;
  margin-top: 6px;
}

p,
h2 {
  margin: 0;
}

.parts,
.points {
  list-style: none;
  margin: 0;
  padding: 0;
}

.parts > li {
  border-bottom: 1px solid var(--hairline);
  padding: 2px 0 8px;
}

.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
}

.head > .v-checkbox {
  flex: 0 0 auto;
}

.tools {
  display: flex;
  gap: 14px;
  margin-left: auto;
}

button:disabled {
  opacity: 0.45;
  cursor: default;
}

.derived {
  color: var(--derived);
}

.draft {
  white-space: pre-line;
  color: var(--soft-ink);
  padding-left: 38px;
}

.put {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
  margin-top: 6px;
}

.put > .v-input {
  flex: 0 1 300px;
}

.points > li {
  display: grid;
  grid-template-columns: 16px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: start;
  padding: 4px 0;
}

.score {
  display: grid;
  grid-template-columns: 180px minmax(0, 1fr);
  gap: 6px 14px;
}

.score p {
  grid-column: 1 / -1;
}
</style>
