<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useCatalogue } from '@/api/catalogue'
import type { AskedOut, BenchSheetOut } from '@/api/schema'
import { meanText, ratioText, unitText } from '@/parts/numbers'

/** The thirteen stops in the order of work; the one being worked on lies open. */
const props = defineProps<{
  sheet: BenchSheetOut
  at: AskedOut
  waiting: Set<string>
  short: boolean
}>()
defineEmits<{ go: [key: string] }>()

const { catalogue, quantities } = useCatalogue()
const STATES: Record<string, string> = {
  done: '✓',
  repeat: '↻',
  doubtful: '⚠',
  begun: '◐',
  missing: '○',
  'not applicable': '–',
}
const list = ref<HTMLElement | null>(null)

const stops = computed(() =>
  (catalogue.value?.stops ?? []).map((stop) => {
    const rows = props.sheet.questions.filter((q) => q.stop === stop.key)
    const repeat = rows.some((q) => props.sheet.hints[q.key])
    const told = props.sheet.stops[stop.key] ?? 'missing'
    const state = repeat && told !== 'doubtful' ? 'repeat' : told
    const taken = rows.filter((q) => value(q)).length
    const shown = rows.filter((q) => !props.short || q.required || q.key === props.at.key)
    return { ...stop, state, rows: shown, taken, of: rows.length, first: shown[0]?.key }
  }),
)

function value(q: AskedOut): string {
  if (props.waiting.has(q.key)) return 'on its way'
  if (q.key === 'claims_copied' && props.sheet.claims.length) return `${props.sheet.claims.length}`
  const places = Object.keys(props.sheet.figures).filter((key) => key.startsWith(`${q.key}@`))
  if (places.length) return places.length === 1 ? '1 place' : `${places.length} places`
  const figure = props.sheet.figures[q.key]
  const unit = quantities.value.get(q.key)?.unit ?? ''
  if (figure) return unit === '%' ? ratioText(figure.mean) : `${meanText(figure)} ${unitText(unit)}`
  const seen = props.sheet.observations.filter((o) => o.item === q.key)
  if (seen.some((o) => o.value === 'not_applicable')) return 'n/a'
  return seen.map((o) => o.text || o.note).join('; ')
}

watch(
  () => props.at.key,
  () =>
    void nextTick(() =>
      list.value?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' }),
    ),
)
</script>

<template>
  <nav ref="list" class="stops" aria-label="Stops">
    <div v-for="(stop, i) in stops" :key="stop.key" class="stop">
      <button
        type="button"
        class="plain title"
        :class="[stop.state.replace(' ', '-'), { open: stop.key === at.stop }]"
        tabindex="-1"
        @click="stop.first && $emit('go', stop.first)"
      >
        <span class="mark" aria-hidden="true">{{ STATES[stop.state] ?? '○' }}</span>
        <span>{{ i + 1 }} {{ stop.label }}</span>
        <span class="count soft" aria-hidden="true">{{ stop.taken }}/{{ stop.of }}</span>
        <span class="visually-hidden">{{ stop.state }}</span>
      </button>
      <template v-if="stop.key === at.stop">
        <button
          v-for="q in stop.rows"
          :key="q.key"
          type="button"
          class="plain row"
          :class="{ here: q.key === at.key, optional: !q.required }"
          :aria-current="q.key === at.key ? 'step' : undefined"
          tabindex="-1"
          @click="$emit('go', q.key)"
        >
          <span>{{ q.label }}</span>
          <span class="value">{{ value(q) }}</span>
        </button>
      </template>
    </div>
  </nav>
</template>

<style scoped>
.stops {
  font-size: 14px;
}

.title {
  display: flex;
  gap: 6px;
  width: 100%;
  padding: 4px 6px 4px 0 !important;
  font-weight: 600 !important;
  line-height: 1.3;
}

.title:hover,
.row:hover {
  background: var(--panel);
}

.title .count {
  margin-left: auto;
  font-weight: 400;
  font-size: 12px;
}

.title.open .count {
  visibility: hidden;
}

.mark {
  width: 16px;
}

.title.done {
  color: var(--measured) !important;
}

.title.doubtful,
.title.repeat {
  color: var(--rust) !important;
}

.title.missing,
.title.not-applicable {
  color: var(--soft-ink) !important;
}

.row {
  display: flex;
  justify-content: space-between;
  gap: 6px;
  width: 100%;
  padding: 2px 6px 2px 22px !important;
  line-height: 1.3;
}

.row.optional > span:first-child {
  color: var(--soft-ink);
}

.row.here {
  background: var(--panel);
  box-shadow: inset 3px 0 0 var(--measured);
  font-weight: 600;
}

.row.here > span:first-child {
  color: var(--ink);
}

.value {
  text-align: right;
  max-width: 96px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

@media (max-width: 699px) {
  .stops {
    display: none;
  }
}
</style>
