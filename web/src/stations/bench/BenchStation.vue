<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { api, data, type Problem } from '@/api/client'
import type { BenchSheetOut, QuantityOut } from '@/api/schema'
import { otherSystem, unitText } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import { useHand } from '@/strip/store'
import BladeElevation from '@/drawings/BladeElevation.vue'
import BenchTray from './BenchTray.vue'
import EntryBox from './EntryBox.vue'
import GrowingBlade from './GrowingBlade.vue'
import KeyHelp from './KeyHelp.vue'
import { deliver, enqueue, remove, waiting, type Waiting } from './queue'
import ReadingsList from './ReadingsList.vue'
import RefusedReadings from './RefusedReadings.vue'
import StopList from './StopList.vue'
import UnusualQuestion, { type Answer } from './UnusualQuestion.vue'

/** One piece: a number, Enter, the next. */
const props = defineProps<{ sheetId: number }>()

const router = useRouter()
const client = useQueryClient()
const hand = useHand()
const { catalogue, quantities } = useCatalogue()

const key = computed(() => ['bench-sheet', props.sheetId])
const sheet = useQuery({
  queryKey: key,
  queryFn: () =>
    data(
      api.GET('/api/bench/sheets/{sheet_id}', { params: { path: { sheet_id: props.sheetId } } }),
    ),
})

const DRAFT = `maple-rook.draft.${props.sheetId}`
const draft = JSON.parse(localStorage.getItem(DRAFT) ?? '{}') as { at?: string; text?: string }
const at = ref<string>(draft.at ?? '')
const text = ref(draft.text ?? '')
const unit = ref('')
const question = ref<{ reading: Waiting; message: string; suggestion: string | null } | null>(null)
/** Where the person was, and what was half typed, when the server asked back. */
const interrupted = ref<{ at: string; text: string } | null>(null)
const fault = ref('')
const said = ref('')
const helpOpen = ref(false)
const field = ref<InstanceType<typeof EntryBox> | null>(null)

/** The quantities of this knife, in the order of work. */
const order = computed<QuantityOut[]>(() => [...quantities.value.values()])
const quantity = computed(() => quantities.value.get(at.value) ?? order.value[0])
const stop = computed(() => catalogue.value?.stops.find((s) => s.key === quantity.value?.stop))
const mine = computed(() => waiting.filter((w) => w.sheetId === props.sheetId))
/** Readings the server refused for good; kept until corrected or discarded by hand. */
const stuck = computed(() => mine.value.filter((w) => w.refused && w !== question.value?.reading))
const signedOff = computed(() => Boolean(sheet.data.value?.finished_at))
const applies = (q: QuantityOut) =>
  !q.required || (sheet.data.value?.required.includes(q.key) ?? true)
const missing = computed(() =>
  order.value.filter(
    (q) =>
      sheet.data.value?.required.includes(q.key) &&
      !sheet.data.value.figures[q.key] &&
      !mine.value.some((w) => w.body.quantity === q.key),
  ),
)

watch([at, text], () =>
  localStorage.setItem(DRAFT, JSON.stringify({ at: at.value, text: text.value })),
)
watch(quantity, (now) => (unit.value = now?.unit ?? ''), { immediate: true })
watch(sheet.data, (now) => (hand.current = now?.piece.id ?? null), { immediate: true })
watch(
  [sheet.data, order],
  () => {
    if (!at.value && sheet.data.value && order.value.length) {
      at.value = (missing.value[0] ?? order.value[0])?.key ?? ''
    }
  },
  { immediate: true },
)

function go(to: string): void {
  at.value = to
  text.value = ''
  fault.value = ''
  question.value = null
  focus()
}

function focus(): void {
  void nextTick(() => field.value?.focus())
}

function step(by: number): void {
  const rows = order.value.filter(applies)
  const index = rows.findIndex((q) => q.key === at.value)
  const next = rows[Math.min(rows.length - 1, Math.max(0, index + by))]
  if (next) go(next.key)
}

function store(): void {
  const q = quantity.value
  const typed = text.value.trim()
  if (!q || !typed) {
    if (!typed) step(1)
    return
  }
  const reading: Waiting = {
    sheetId: props.sheetId,
    body: {
      client_id: crypto.randomUUID(),
      quantity: q.key as Waiting['body']['quantity'],
      typed,
      default_unit: unit.value || q.unit,
      confirmed: false,
      taken_at: new Date().toISOString(),
    },
  }
  stuck.value.filter((w) => w.body.quantity === q.key).forEach((w) => remove(w.body.client_id))
  enqueue(reading)
  said.value = `${q.label} ${typed}`
  step(1)
  void send()
}

function send(): Promise<void> {
  return deliver(confirmed, refused)
}

function confirmed(state: BenchSheetOut): void {
  client.setQueryData(['bench-sheet', state.id], state)
  void client.invalidateQueries({ queryKey: ['rack'] })
  void client.invalidateQueries({ queryKey: ['strip'] })
  void client.invalidateQueries({ queryKey: ['sheet', state.piece.id] })
  void client.invalidateQueries({ queryKey: ['board'] })
}

/** The server will not take it as it stands: back to the stop, with its words and the text. */
function refused(reading: Waiting, problem: Problem): void {
  if (reading.sheetId !== props.sheetId) return
  interrupted.value = { at: at.value, text: text.value }
  at.value = reading.body.quantity
  text.value = reading.body.typed
  unit.value = reading.body.default_unit ?? unit.value
  if (problem.kind === 'unusual-value') {
    question.value = { reading, message: problem.message, suggestion: problem.suggestion }
    fault.value = ''
  } else {
    question.value = null
    fault.value = problem.message
  }
  focus()
}

function answer(choice: Answer): void {
  const asked = question.value
  if (!asked) return
  question.value = null
  remove(asked.reading.body.client_id)
  if (choice === 'correct') {
    focus()
    return
  }
  const typed = choice === 'take' && asked.suggestion ? asked.suggestion : asked.reading.body.typed
  enqueue({
    sheetId: asked.reading.sheetId,
    body: { ...asked.reading.body, typed, confirmed: true },
  })
  const back = interrupted.value
  go(back?.at ?? at.value)
  text.value = back?.text ?? ''
  void send()
}

async function voidReading(id: number, reason: string): Promise<void> {
  try {
    confirmed(
      await data(
        api.POST('/api/bench/readings/{reading_id}/void', {
          params: { path: { reading_id: id } },
          body: { reason },
        }),
      ),
    )
    said.value = 'reading voided; it stays in the history'
  } catch (error) {
    fault.value = (error as Error).message
  }
  focus()
}

function voidLast(): void {
  const rows = sheet.data.value?.readings.filter((r) => !r.voided) ?? []
  const here = rows.filter((r) => r.quantity === at.value)
  const last = here.at(-1) ?? rows.at(-1)
  if (!last) return
  at.value = last.quantity
  void voidReading(last.id, 'taken back at the bench')
}

function again(): void {
  const rows = sheet.data.value?.readings ?? []
  const last = mine.value.at(-1)?.body.quantity ?? rows.at(-1)?.quantity
  if (last) go(last)
}

function switchUnit(): void {
  const units = quantity.value?.units.filter((u) =>
    ['mm', 'in', 'g', 'oz', 'dps', 'incl'].includes(u),
  )
  if (!units?.length) return
  unit.value = units[(units.indexOf(unit.value) + 1) % units.length] ?? unit.value
}

/** Letters are commands while the entry is empty; a reading never begins with one. */
function onEntryKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if (question.value) {
    const choice = { k: 'keep', t: 'take', Escape: 'correct' }[event.key] as
      'keep' | 'take' | 'correct' | undefined
    if (choice && (choice !== 'take' || question.value.suggestion)) {
      event.preventDefault()
      answer(choice)
    } else if (event.key === 'Enter') {
      event.preventDefault()
    } else if (event.key !== 'Tab') {
      answer('correct')
    }
    return
  }
  if (event.key === 'Enter') {
    event.preventDefault()
    store()
    return
  }
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    event.preventDefault()
    step(event.key === 'ArrowDown' ? 1 : -1)
    return
  }
  if (text.value) return
  const commands: Record<string, () => void> = {
    r: again,
    u: switchUnit,
    h: () => sheet.data.value && hand.hang(sheet.data.value.piece.id),
    Backspace: voidLast,
    '?': () => (helpOpen.value = true),
    ' ': () => (said.value = 'no instrument is connected; type the reading'),
  }
  const command = commands[event.key] ?? commands[event.key.toLowerCase()]
  if (command) {
    event.preventDefault()
    command()
  }
}

async function signOff(): Promise<void> {
  try {
    const state = await data(
      api.POST('/api/bench/sheets/{sheet_id}/sign-off', {
        params: { path: { sheet_id: props.sheetId } },
      }),
    )
    confirmed(state)
    localStorage.removeItem(DRAFT)
    await router.push(`/sheet/${state.piece.id}`)
  } catch (error) {
    fault.value = (error as Error).message
  }
}

onMounted(() => {
  for (const reading of mine.value) delete reading.refused
  void send()
  focus()
})
watch(sheet.data, (now, before) => {
  if (now && !before) focus()
})
// The dialog hands focus back in its own time; the entry takes it after that.
watch(helpOpen, (open) => open || setTimeout(focus, 80))
onUnmounted(() => (hand.current = null))
</script>

<template>
  <StateNote
    v-if="!sheet.data.value || !quantity"
    :error="sheet.error.value"
    waiting="Laying the sheet out…"
    :retry="() => sheet.refetch()"
  />
  <div v-else class="bench">
    <StopList
      :sheet="sheet.data.value"
      :quantities="order"
      :at="at"
      :waiting="mine.map((w) => w.body.quantity)"
      @go="go"
    />

    <section class="entry" aria-label="Current measurement">
      <p class="soft where">
        {{ sheet.data.value.piece.name }} · stop: {{ stop?.label.toLowerCase() }}
      </p>
      <p class="mover">
        <v-btn @click="step(-1)">‹ back</v-btn>
        <v-btn @click="step(1)">next ›</v-btn>
      </p>
      <label class="what" :for="`entry-${sheetId}`">
        {{ quantity.label }}
        <span v-if="!quantity.required" class="soft small">if you like</span>
        <span v-else-if="!applies(quantity)" class="soft small">does not apply to this grind</span>
      </label>
      <EntryBox
        :id="`entry-${sheetId}`"
        ref="field"
        v-model="text"
        :wrong="Boolean(fault || question)"
        :disabled="signedOff"
        :placeholder="quantity.key === 'asymmetry' ? '50/50' : '0'"
        :unit="quantity.key === 'asymmetry' ? 'right/left' : unitText(unit || quantity.unit)"
        :unit-key="unit"
        @entry-key="onEntryKey"
        @switch-unit="(switchUnit(), focus())"
      />
      <UnusualQuestion
        v-if="question"
        :message="question.message"
        :suggestion="question.suggestion"
        @answer="answer"
      />
      <p v-else-if="fault" class="rust fault" role="alert">
        <strong>⚠ Not stored.</strong> {{ fault }}
      </p>
      <RefusedReadings :readings="stuck" @discard="remove" />
      <p id="entry-method" class="method">
        {{ quantity.method }}
        <span class="soft">Jaws: {{ quantity.jaws }}. Accepted: {{ quantity.accepted }}.</span>
      </p>

      <ReadingsList
        :readings="sheet.data.value.readings.filter((r) => r.quantity === quantity?.key)"
        :figure="sheet.data.value.figures[quantity.key] ?? null"
        :unit="quantity.unit"
        :waiting="mine.filter((w) => w.body.quantity === quantity?.key).map((w) => w.body.typed)"
        :locked="signedOff"
        @strike="(id) => voidReading(id, 'struck out at the bench')"
      />
      <p v-if="sheet.data.value.figures[quantity.key]" class="soft small">
        = {{ otherSystem(sheet.data.value.figures[quantity.key]!.mean, quantity.unit) }}
      </p>
      <BladeElevation
        class="where-to"
        :outline="sheet.data.value.outline"
        :figures="sheet.data.value.figures"
        :lit="quantity.key"
        only
      />
      <p class="said soft small" role="status">{{ said }}</p>
    </section>

    <aside class="growing" aria-label="The blade so far">
      <GrowingBlade :sheet="sheet.data.value" :lit="quantity.key" />
      <ul v-if="sheet.data.value.checks.length" class="checks">
        <li v-for="check in sheet.data.value.checks" :key="check" class="rust">⚠ {{ check }}</li>
      </ul>
      <p v-else class="soft small">Checks: nothing contradicts so far.</p>
    </aside>

    <BenchTray
      :waiting="mine.length - stuck.length"
      :stuck="stuck.length"
      :missing="missing.length"
      :signed-off="signedOff"
      @sign-off="signOff"
      @open="router.push(`/sheet/${sheet.data.value.piece.id}`)"
    />
    <KeyHelp v-model="helpOpen" />
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 200px minmax(360px, 520px) minmax(260px, 1fr);
  gap: 20px 28px;
  padding-bottom: 84px;
}

.where,
.what {
  margin: 0;
}

.what {
  display: block;
  font-family: var(--serif);
  font-size: var(--size-xxl);
  line-height: 1.15;
}

.what .small {
  font-family: var(--sans);
}

.method {
  margin: 0 0 10px;
}

.checks {
  list-style: none;
  padding: 0;
  margin: 8px 0;
}

.where-to {
  max-height: 190px;
  margin-top: 12px;
}

.said {
  min-height: 1.4em;
}

.mover {
  display: none;
}

@media (max-width: 1000px) {
  .bench {
    grid-template-columns: 180px minmax(0, 1fr);
  }

  .growing {
    grid-column: 2;
  }
}

@media (max-width: 699px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
    gap: 12px;
    padding-bottom: 70px;
  }

  .mover {
    display: flex;
    justify-content: space-between;
    margin: 6px 0;
  }

  .growing {
    grid-column: 1;
  }
}
</style>
