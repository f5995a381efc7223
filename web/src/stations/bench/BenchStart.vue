<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useCatalogue } from '@/api/catalogue'
import { api, data, Problem } from '@/api/client'
import type { Grind, KnifeTypeOut, LabelOut, NewPieceIn } from '@/api/schema'
import { labelOn } from '@/parts/photo'
import NamedField from '@/parts/NamedField.vue'
import StateNote from '@/parts/StateNote.vue'
import WordSwitch from '@/parts/WordSwitch.vue'

const router = useRouter()
const route = useRoute()
const { catalogue } = useCatalogue()
const begin = useQuery({
  queryKey: ['bench'],
  queryFn: () => data(api.GET('/api/bench')),
  gcTime: 0,
})

const asksFor = ref<'known' | 'new' | null>(null)
const tag = ref('')
const CONDITIONS = [
  ['new', 'new'],
  ['used', 'used'],
] as const
const SOURCES = [
  ['known', 'existing model'],
  ['new', 'a new model'],
] as const
const condition = ref<'new' | 'used'>('new')
const modelId = ref<number | null>(Number(route.query.model) || null)
const maker = ref('')
const line = ref('')
const knifeType = ref<KnifeTypeOut['key'] | null>(null)
const nominal = ref('')
const grind = ref<Grind | null>('not_seen')
const steel = ref<string | null>(null)
const price = ref('')
const hardnessClaim = ref('')
const angleClaim = ref('')

/** A shop without models begins with a new one. */
const source = computed<'known' | 'new'>({
  get: () => asksFor.value ?? (begin.data.value?.models.length ? 'known' : 'new'),
  set: (said) => (asksFor.value = said),
})
const models = computed(() =>
  (begin.data.value?.models ?? []).map((m) => ({
    value: m.id,
    title: m.name,
    subtitle: m.steel ?? '',
  })),
)
const types = computed(() =>
  (catalogue.value?.knife_types ?? []).map((t) => ({ value: t.key, title: t.label })),
)
const steels = computed(() =>
  (begin.data.value?.steels ?? []).map((s) => ({
    value: s.designation,
    title: s.designation,
    subtitle: s.names.join(', '),
    names: s.names,
  })),
)
const steelField = ref<InstanceType<typeof NamedField> | null>(null)
const grinds = computed(() =>
  (catalogue.value?.grinds ?? []).map((g) => ({ value: g.key, title: g.label })),
)

function body(): NewPieceIn {
  const piece = { tag: tag.value, condition: condition.value }
  if (source.value === 'known') return { ...piece, model_id: modelId.value }
  const claims = [
    { quantity: 'hardness' as const, printed: hardnessClaim.value },
    { quantity: 'edge_angle' as const, printed: angleClaim.value },
  ].filter((c) => c.printed.trim())
  return {
    ...piece,
    model: {
      maker: maker.value,
      line: line.value,
      knife_type: knifeType.value ?? ('' as KnifeTypeOut['key']),
      nominal: nominal.value,
      grind: grind.value ?? 'not_seen',
      construction: 'one steel',
      finish: '',
      handle: '',
      steel: steel.value,
      price: price.value ? Number(price.value.replace(',', '.')) : null,
      even_machine_edge: false,
      claims,
    },
  }
}

/** To a piece that is known: its open sheet, or what is known of it. */
const open = (label: LabelOut) =>
  router.push(label.sheet_id ? `/bench/${label.sheet_id}` : `/sheet/${label.piece_id}`)

/** The piece of a tag or of the address a label's code says; none where it is new. */
const known = (code: string) =>
  data(api.GET('/api/bench/label', { params: { query: { code } } })).catch((error: unknown) => {
    if (error instanceof Problem && error.status === 404) return null
    throw error
  })

const enter = useMutation({
  mutationFn: async () => {
    const label = await known(tag.value)
    if (label) return open(label)
    if (source.value === 'new' && steelField.value?.isStrange())
      throw new Error('The steel is not among the shop’s grades. Nothing was entered.')
    const sheet = await data(api.POST('/api/bench/pieces', { body: body() }))
    return router.push(`/bench/${sheet.id}`)
  },
})
const picker = ref<HTMLInputElement | null>(null)
const scan = useMutation({ mutationFn: async (file: File) => open(await labelOn(file)) })

function scanned(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) scan.mutate(file)
}

/** Enter in the tag, as a scanner sends it: a piece that is known is opened at once. */
async function entered(event: KeyboardEvent): Promise<void> {
  if (!tag.value.trim() || modelId.value) return // the form is full: Enter submits it
  event.preventDefault()
  const label = await known(tag.value).catch(() => null)
  if (label) void open(label)
}

const FIELDS = ['tag', 'model_id', 'maker', 'line', 'knife_type', 'nominal', 'steel', 'price']
/** What the server said of each field, under the field it means. */
const wrongOf = computed(() => {
  const error = enter.error.value
  const found: Record<string, string> = {}
  for (const { field, message } of error instanceof Problem ? error.errors : []) {
    const [name] = FIELDS.filter((known) => field.split('.').includes(known))
    if (name) found[name] ??= message
  }
  if (error instanceof Problem && source.value === 'new' && knifeType.value === null)
    found.knife_type ??= 'Type is missing.'
  return found
})
const wrong = computed(() => {
  const error = enter.error.value ?? scan.error.value
  if (!error) return null
  const untold =
    error instanceof Problem
      ? error.errors.find((e) => !Object.values(wrongOf.value).includes(e.message))
      : undefined
  if (untold) return untold.message
  return Object.keys(wrongOf.value).length ? 'Check the fields marked above.' : error.message
})
</script>

<template>
  <StateNote
    v-if="!begin.data.value"
    :error="begin.error.value"
    waiting="Clearing the bench…"
    :retry="() => begin.refetch()"
  />
  <div v-else class="start">
    <form @submit.prevent="enter.mutate()">
      <h2>A piece on the bench</h2>
      <p class="soft small">
        Scan a label into the tag, or type a tag that is known, and its piece is opened.
      </p>
      <div class="fields">
        <v-text-field
          v-model="tag"
          v-focus
          label="Piece tag"
          placeholder="what its sticker says"
          maxlength="300"
          autocomplete="off"
          :error-messages="wrongOf.tag"
          @keydown.enter="entered"
        />
        <WordSwitch v-model="condition" legend="Condition" :choices="CONDITIONS" />
        <WordSwitch v-model="source" legend="Model" :choices="SOURCES" class="wide" />
        <v-autocomplete
          v-if="source === 'known'"
          v-model="modelId"
          :items="models"
          label="Model"
          class="wide"
          :error-messages="wrongOf.model_id"
          auto-select-first
        />
        <template v-else>
          <v-combobox
            v-model="maker"
            :items="begin.data.value.makers"
            label="Maker"
            maxlength="80"
            :error-messages="wrongOf.maker"
          />
          <v-text-field
            v-model="line"
            label="Line"
            maxlength="80"
            placeholder="the maker’s name for it"
            :error-messages="wrongOf.line"
          />
          <NamedField v-model="knifeType" :items="types" label="Type" :wrong="wrongOf.knife_type" />
          <v-text-field
            v-model="nominal"
            label="Nominal size"
            placeholder="210 mm or 8 1/4 in"
            maxlength="64"
            :error-messages="wrongOf.nominal"
          />
          <NamedField v-model="grind" :items="grinds" label="Grind" />
          <NamedField
            ref="steelField"
            v-model="steel"
            :items="steels"
            label="Steel, if known"
            unknown="Not among the shop’s grades: enter it under Steels, or leave it empty for now."
            :wrong="wrongOf.steel"
          />
          <v-text-field
            v-model="hardnessClaim"
            label="Hardness on the box"
            placeholder="62±2"
            maxlength="64"
          />
          <v-text-field
            v-model="angleClaim"
            label="Angle on the box"
            placeholder="15 dps"
            maxlength="64"
          />
          <v-text-field
            v-model="price"
            :label="catalogue?.currency ? `Price, ${catalogue.currency}` : 'Price'"
            inputmode="decimal"
            maxlength="12"
            :error-messages="wrongOf.price"
          />
        </template>
      </div>
      <p v-if="wrong" class="rust" role="alert"><strong>⚠ Not entered.</strong> {{ wrong }}</p>
      <p class="do">
        <v-btn type="submit" variant="flat" color="primary" :loading="enter.isPending.value">
          Begin measuring
        </v-btn>
        <v-btn :loading="scan.isPending.value" @click="picker?.click()"> Photograph a label </v-btn>
        <input
          ref="picker"
          type="file"
          accept="image/*"
          capture="environment"
          class="visually-hidden"
          tabindex="-1"
          aria-label="Photo of a label"
          @change="scanned"
        />
      </p>
      <p class="soft small caution">
        Secure the blade before measuring, edge away from you, a cut-resistant glove on the holding
        hand. Never catch a falling knife.
      </p>
    </form>

    <section>
      <h2>Unfinished sheets</h2>
      <p v-if="!begin.data.value.open_sheets.length" class="soft">
        No sheet is open. Enter a piece on the left to begin one.
      </p>
      <table v-else>
        <thead>
          <tr>
            <th>piece</th>
            <th>by</th>
            <th class="number">readings</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="sheet in begin.data.value.open_sheets" :key="sheet.id">
            <td>
              <RouterLink :to="`/bench/${sheet.id}`">{{ sheet.name }}</RouterLink>
            </td>
            <td class="soft">{{ sheet.person }}</td>
            <td class="number">{{ sheet.readings }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="begin.data.value.median_s !== null" class="soft small">
        A sheet takes {{ Math.floor(begin.data.value.median_s / 60) }} min
        {{ Math.round(begin.data.value.median_s % 60) }} s here, the median of the last
        {{ begin.data.value.timed_sheets }}; breaks over three minutes are not counted.
      </p>
      <p class="soft small">
        <RouterLink to="/bench/instruments">Instruments</RouterLink>: what readings are taken with,
        and when each is due for calibration.
      </p>
      <p class="soft small">
        To measure a knife on the rack again, open its Sheet and choose “Measure again”.
      </p>
    </section>
  </div>
</template>

<style scoped>
.start {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 40px;
}

.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  margin: 14px 0;
  align-items: start;
}

.wide {
  grid-column: 1 / -1;
}

.do {
  display: flex;
  gap: 12px;
}

.caution {
  max-width: 60ch;
  margin-top: 18px;
}

@media (max-width: 699px) {
  .start,
  .fields {
    grid-template-columns: 1fr;
  }
}
</style>
