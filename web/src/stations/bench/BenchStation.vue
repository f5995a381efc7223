<script setup lang="ts">
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { labelOf } from '@/api/catalogue'
import { api, data } from '@/api/client'
import type { ObservationOut } from '@/api/schema'
import BladeElevation from '@/drawings/BladeElevation.vue'
import { unitText } from '@/parts/numbers'
import { isTyping } from '@/parts/typing'
import StateNote from '@/parts/StateNote.vue'
import { useHand } from '@/strip/store'
import { useBench } from './bench'
import { type Action } from './actions'
import ActionBar from './ActionBar.vue'
import BenchTray from './BenchTray.vue'
import CheckList from './CheckList.vue'
import ChoiceList from './ChoiceList.vue'
import EdgeTrace from './EdgeTrace.vue'
import EntryBox from './EntryBox.vue'
import EntryExtras from './EntryExtras.vue'
import GrowingBlade from './GrowingBlade.vue'
import HardnessPanel from './HardnessPanel.vue'
import IdentifyPanel from './IdentifyPanel.vue'
import KeyHelp from './KeyHelp.vue'
import { onEntryKey } from './keys'
import { keepPhoto } from '@/parts/photo'
import PhotographsDialog from '@/parts/PhotographsDialog.vue'
import PlainMethod from './PlainMethod.vue'
import QuestionBar from './QuestionBar.vue'
import { offline, remove } from './queue'
import ReadingsList from './ReadingsList.vue'
import RefusedReadings from './RefusedReadings.vue'
import { draftKey } from './state'
import StopCaution from './StopCaution.vue'
import StopList from './StopList.vue'

/** One piece: a number, Enter, the next. */
const props = defineProps<{ sheetId: number }>()

const router = useRouter()
const hand = useHand()
const field = ref<InstanceType<typeof EntryBox> | null>(null)
const extras = ref<InstanceType<typeof EntryExtras> | null>(null)
const helpOpen = ref(false)
const picturing = ref(false)

function focus(selected = false): void {
  void nextTick(() => field.value?.focus(selected))
}

const bench = useBench(props.sheetId, focus)
const { sheet, asked, quantity, item, text, unit, question, fault, said, mine, stuck } = bench
const { chosen, byHand, block } = bench
const { place, photoId, note, signedOff, missing, instruments, device, short, undoable } = bench

const seen = computed(
  () => sheet.value?.observations.filter((o) => o.item === asked.value?.key) ?? [],
)
/** Of what is read at several places, the figure of the place read last. */
const figure = computed(() => {
  const key = quantity.value?.key ?? ''
  const last = sheet.value?.readings.filter((r) => r.quantity === key && !r.voided).at(-1)
  const at = quantity.value?.placed && last ? `${key}@${last.station}` : key
  return sheet.value?.figures[at] ?? null
})
/** How many other open questions of this stop earlier pieces of the model answer. */
const usualHere = computed(() => {
  const { questions = [], usual = {} } = sheet.value ?? {}
  const open = questions.filter((q) => q.stop === asked.value?.stop && q.key !== asked.value.key)
  return open.filter((q) => usual[q.key] && !bench.answered.value.has(q.key)).length
})
const here = computed(() => mine.value.filter((w) => w.key === asked.value?.key))
const notSent = computed(
  () => new Set(mine.value.filter((w) => w.what !== 'void').map((w) => w.key)),
)
const readings = computed(
  () => sheet.value?.readings.filter((r) => r.quantity === quantity.value?.key) ?? [],
)
const questionLabel = (key: string) =>
  sheet.value?.questions.find((q) => q.key === key)?.label ?? key.replace('check.', 'decision: ')
const placeholder = computed(() => {
  if (question.value?.kind === 'not-applicable') return 'why not'
  if (item.value?.free) return 'in words'
  if (item.value) return item.value.multiple ? '1 3' : '1'
  return quantity.value?.unit === '%' ? '50/50' : '0'
})
const unitLabel = computed(() => {
  if (!quantity.value) return ''
  return quantity.value.unit === '%' ? 'right/left' : unitText(unit.value || quantity.value.unit)
})
const minutes = computed(() => {
  const s = Math.round(sheet.value?.worked_s ?? 0)
  return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`
})

const outside = {
  hang: () => sheet.value && hand.hang(sheet.value.piece.id),
  help: () => (helpOpen.value = true),
  photo: () => extras.value?.pickPhoto(),
  note: () => extras.value?.write(),
  focus,
  signOff: () => void signOff(),
  askToSignOff: () => void askToSignOff(),
}
/** What the buttons do; each does what its key does. */
function act(what: Action): void {
  const acts: Record<Action, () => unknown> = {
    store: bench.store,
    again: bench.again,
    void: bench.voidLast,
    undo: bench.undo,
    none: () => (question.value = { kind: 'not-applicable' }),
    usual: bench.asUsual,
    allUsual: bench.allAsUsual,
    fine: bench.allFine,
    check: bench.nextCheck,
    short: () => (short.value = !short.value),
    stop: () => bench.stepStop(1),
    ...{ note: outside.note, photo: outside.photo, hang: outside.hang, keys: outside.help },
  }
  acts[what]()
  if (what !== 'note' && what !== 'photo' && what !== 'keys') focus()
}

const onKey = (event: KeyboardEvent) => onEntryKey(event, bench, outside)

/** A number typed while the focus is elsewhere at the Bench is meant for the entry. */
function onStrayKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return
  if (event.target instanceof Element && event.target.closest('[role=dialog]')) return
  if (helpOpen.value || signedOff.value || !sheet.value || !/^[\d.,~]$/.test(event.key)) return
  event.stopImmediatePropagation()
  if (!event.repeat) {
    onEntryKey(event, bench, outside)
    if (!event.defaultPrevented) text.value += event.key
  }
  event.preventDefault()
  focus()
}
onMounted(() => window.addEventListener('keydown', onStrayKey, { capture: true }))
onUnmounted(() => window.removeEventListener('keydown', onStrayKey, { capture: true }))

async function keptPhoto(file: File): Promise<void> {
  const at = asked.value?.key
  try {
    const id = await keepPhoto(props.sheetId, file)
    if (asked.value?.key !== at) return
    photoId.value = id
    const known = seen.value[0]
    if (known && item.value) bench.observe(item.value.key, known.value, known.note, known.aspect)
    else said.value = 'photo kept; it goes with the next entry here'
  } catch (error) {
    fault.value = `The photo was not stored: ${(error as Error).message}`
  }
  focus()
}

function withdraw(aspect: ObservationOut['aspect']): void {
  if (asked.value) bench.observe(asked.value.key, 'withdrawn', '', aspect)
  focus()
}

function choose(typed: string): void {
  text.value = typed
  bench.store()
}

/** What is not as a signed sheet should be; it is asked once. */
const lacking = computed(() => {
  const seenHere = sheet.value?.observations ?? []
  const wrong = seenHere.filter((o) => ['mend', 'reject'].includes(o.value))
  const sold = seenHere.some((o) => o.item === 'verdict' && o.value === 'sell')
  return [
    ...(missing.value.length
      ? [`Not measured: ${missing.value.map((q) => q.label).join(', ')}.`]
      : []),
    ...stuck.value.map((w) => `Not stored: ${questionLabel(w.key)} ${w.words}.`),
    ...bench.openChecks.value.map((c) => `Not decided: ${c.wrong}.`),
    ...(sold ? wrong.map((o) => `Ready for the shelf, yet ${o.label}: ${o.text}.`) : []),
  ]
})

function askToSignOff(): void {
  if (!lacking.value.length) return void signOff()
  question.value = { kind: 'sign-off', lacking: lacking.value }
  focus()
}

async function signOff(): Promise<void> {
  question.value = null
  try {
    const state = await data(
      api.POST('/api/bench/sheets/{sheet_id}/sign-off', {
        params: { path: { sheet_id: props.sheetId } },
      }),
    )
    localStorage.removeItem(draftKey(props.sheetId))
    bench.refetchSoon()
    await router.push(`/sheet/${state.piece.id}`)
  } catch (error) {
    fault.value = (error as Error).message
  }
}

async function handOver(): Promise<void> {
  await navigator.clipboard?.writeText(location.href).catch(() => undefined)
  said.value =
    'Everything stored is available on every machine. Open the Bench there and continue this sheet.'
}

watch(sheet, (now) => (hand.current = now?.piece.id ?? null), { immediate: true })
onMounted(focus)
watch(sheet, (now, before) => {
  if (now && !before) focus()
})
// The dialog hands focus back in its own time; the entry takes it after that.
watch([helpOpen, picturing], (open) => open.some(Boolean) || setTimeout(focus, 80))
onUnmounted(() => (hand.current = null))
</script>

<template>
  <StateNote
    v-if="!sheet || !asked"
    :error="bench.query.error.value"
    waiting="Laying the sheet out…"
    :retry="() => bench.query.refetch()"
  />
  <div v-else class="bench">
    <StopList :sheet="sheet" :at="asked" :waiting="notSent" :short="short" @go="bench.go" />

    <section class="entry" aria-label="Current measurement">
      <p class="soft where">
        <span>{{ sheet.piece.name }}</span>
        <span class="small tools">
          <span title="time at this sheet, without breaks">{{ minutes }} min</span>
          <button type="button" class="plain" tabindex="-1" @click="((short = !short), focus())">
            {{ short ? 'short sheet' : 'full sheet' }} (Alt+F)
          </button>
          <RouterLink :to="`/bench/${sheetId}/photo`" tabindex="-1">from a photo</RouterLink>
          <button type="button" class="plain" tabindex="-1" @click="picturing = true">
            photographs
          </button>
          <button type="button" class="plain" tabindex="-1" @click="(handOver(), focus())">
            hand over
          </button>
        </span>
      </p>
      <p class="mover">
        <v-btn height="44" @click="bench.step(-1)">‹ back</v-btn>
        <select
          aria-label="Stop"
          :value="asked.stop"
          @change="bench.goToStop(($event.target as HTMLSelectElement).value)"
        >
          <option v-for="(s, i) in bench.catalogue.value?.stops" :key="s.key" :value="s.key">
            {{ i + 1 }} {{ s.label }}
          </option>
        </select>
        <v-btn height="44" @click="bench.step(1)">next ›</v-btn>
      </p>
      <label class="what" :for="`entry-${sheetId}`" :data-question="asked.key">
        {{ asked.label }}
        <span v-if="!asked.required" class="soft small">if you like</span>
      </label>
      <EntryBox
        :id="`entry-${sheetId}`"
        ref="field"
        :entry="bench"
        :wrong="Boolean(fault || question)"
        :disabled="signedOff"
        :placeholder="placeholder"
        :unit="question?.kind === 'not-applicable' ? '' : unitLabel"
        :unit-key="unit"
        :words="Boolean(item) || question?.kind === 'not-applicable'"
        @entry-key="onKey"
        @switch-unit="(bench.switchUnit(), focus())"
      />
      <EntryExtras
        v-if="!signedOff"
        ref="extras"
        v-model="note"
        :photo="photoId"
        @photo="keptPhoto"
        @done="focus()"
      />
      <PlainMethod
        v-if="!signedOff && quantity"
        :sheet-id="sheetId"
        :quantity="quantity.key"
        :instrument="quantity.instrument.replaceAll('_', ' ')"
        @taken="focus()"
      />
      <ActionBar
        v-if="!signedOff"
        :again="sheet.readings.length > 0"
        :usual="Boolean(item && sheet.usual[item.key] && !seen.length)"
        :short="short"
        :undoable="undoable.length > 0"
        :checks="bench.openChecks.value.length > 0"
        :finish="asked.stop === 'finish'"
        :reading="Boolean(quantity)"
        @act="act"
      />
      <QuestionBar
        v-if="question"
        :question="question"
        @settle="bench.settle"
        @decide="bench.decide"
        @strike="
          (reason) =>
            question?.kind === 'void' &&
            bench.strike(question.reading.client_id, question.reading.quantity, reason)
        "
        @sign-off="signOff"
        @close="((question = null), focus())"
      />
      <p v-if="fault" class="rust fault" role="alert"><strong>⚠ Not stored.</strong> {{ fault }}</p>
      <RefusedReadings
        :entries="stuck"
        @discard="(id) => (remove(id), focus())"
        @over="(entry) => (bench.enterOver(entry), focus())"
        @settle="bench.settleRefused"
      />
      <p class="said soft small" role="status">
        {{ said }}
        <button
          v-if="undoable.length && !signedOff"
          type="button"
          class="plain undo"
          tabindex="-1"
          @click="bench.undo"
        >
          undo the void of {{ undoable.at(-1)?.words }} (Z)
        </button>
      </p>
      <p id="entry-method" class="method">
        {{ quantity?.method ?? item?.method }}
        <span v-if="quantity" class="soft">
          Jaws: {{ quantity.jaws }}. Accepted: {{ quantity.accepted }}.
          <label v-if="byHand.length > 1" class="tool">
            By hand with
            <select
              :value="chosen[quantity.instrument] ?? ''"
              tabindex="-1"
              @change="
                ((chosen[quantity.instrument] = Number(($event.target as HTMLSelectElement).value)),
                focus())
              "
            >
              <option value="">
                the usual {{ labelOf('InstrumentKind', quantity.instrument) }}
              </option>
              <option v-for="i in byHand" :key="i.id" :value="i.id">{{ i.name }}</option>
            </select>
          </label>
        </span>
      </p>

      <template v-if="quantity">
        <ReadingsList
          :readings="readings"
          :figure="figure"
          :unit="quantity.unit"
          :waiting="here"
          :hint="sheet.hints[quantity.key] ?? ''"
          :derived="sheet.derived[quantity.key]"
          :locked="signedOff"
          @strike="(reading) => ((question = { kind: 'void', reading }), focus())"
        />
        <HardnessPanel
          v-if="quantity.stop === 'hardness'"
          v-model:place="place"
          v-model:block="chosen['reference_block']"
          :blocks="instruments.blocks.value"
          :standing="block?.id ?? null"
          :hardness="sheet.hardness"
        />
        <BladeElevation
          v-else
          class="where-to"
          :outline="sheet.outline"
          :figures="sheet.figures"
          :lit="quantity.key"
          only
        />
      </template>
      <ChoiceList
        v-else-if="item"
        :item="item"
        :seen="seen"
        :usual="sheet.usual[item.key]"
        :waiting="here.map((w) => w.words)"
        :locked="signedOff"
        :others="usualHere"
        @choose="choose"
        @usual="(bench.asUsual(), focus())"
        @all-usual="(bench.allAsUsual(), focus())"
        @withdraw="withdraw"
      />
      <p v-if="asked.stop === 'finish' && !signedOff" class="wide-only">
        <v-btn tabindex="-1" @click="(bench.allFine(), focus())">
          <kbd>Alt+A</kbd>&nbsp;mark all open answers as fine
        </v-btn>
      </p>
      <EdgeTrace
        v-if="asked.stop === 'profile'"
        :key="sheetId"
        :sheet="sheet"
        :locked="signedOff"
        @kept="bench.refetchSoon"
      />
      <IdentifyPanel v-if="asked.stop === 'identify'" :sheet="sheet" :locked="signedOff" />
      <p v-if="offline && mine.length" class="small queue">
        <strong>Kept here; sent once the server is back:</strong>
        {{ mine.map((w) => `${questionLabel(w.key)} ${w.words}`).join(' · ') }}
      </p>
    </section>

    <aside class="growing" aria-label="The blade so far">
      <GrowingBlade :sheet="sheet" :lit="asked.key" />
      <CheckList
        :checks="sheet.checks"
        :locked="signedOff"
        @ask="(check) => ((question = { kind: 'check', check }), focus())"
      />
      <StopCaution :stop="asked.stop" />
    </aside>

    <BenchTray
      :instruments="instruments.onLine.value"
      :device="device"
      :waiting="mine.length - stuck.length"
      :stuck="stuck.length"
      :missing="missing.length"
      :signed-off="signedOff"
      @sign-off="askToSignOff"
      @open="router.push(`/sheet/${sheet.piece.id}`)"
      @take="(bench.take(), focus())"
      @keys="helpOpen = true"
    />
    <KeyHelp v-model="helpOpen" />
    <PhotographsDialog v-model="picturing" :piece-id="sheet.piece.id" />
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 216px minmax(360px, 520px) minmax(260px, 1fr);
  gap: 20px 28px;
  padding-bottom: 84px;
}

.where {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 0 12px;
  align-items: baseline;
}

.where > span:first-child {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  white-space: nowrap;
}

.tools button {
  text-decoration: underline;
}

.tools a {
  color: inherit;
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

.where-to {
  max-height: 170px;
  margin-top: 12px;
}

.mover select {
  max-width: 46%;
}

.tool select {
  max-width: 220px;
}

.said {
  min-height: 1.4em;
  margin: 0 0 6px;
}

.undo {
  text-decoration: underline;
}

.queue {
  border-left: 3px solid var(--rust);
  padding: 4px 12px;
  background: var(--panel);
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
  .wide-only {
    display: none;
  }

  .mover select,
  .tool select {
    min-height: 44px;
  }

  .bench {
    grid-template-columns: minmax(0, 1fr);
    gap: 12px;
    padding-bottom: 70px;
  }

  .where {
    flex-direction: column;
    gap: 0;
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
