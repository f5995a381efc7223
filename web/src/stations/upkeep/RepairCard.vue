<script setup lang="ts">
import { addressOf } from '@/api/base'
import { labelOf } from '@/api/catalogue'
import { computed, ref, watch } from 'vue'
import type { EventIn, EventKind, RepairOut } from '@/api/schema'
import { keepRepairPhoto } from '@/parts/photo'
import { timeText } from './care'
import { newId } from '@/api/id'
import { dayText } from '@/parts/moments'

/** One repair: what to do with what, pictures, done, re-checked. */
const props = defineProps<{ repair: RepairOut; busy: boolean }>()
const emit = defineEmits<{ happened: [EventIn] }>()

const minutes = ref('')
const note = ref('')
const failed = ref('')
const open = computed(() => !['closed', 'dropped'].includes(props.repair.state))
const done = computed(() => props.repair.state.startsWith('done'))
const pictures = computed(() => props.repair.events.filter((e) => e.photo_id !== null))
const number = (text: string) => (text.trim() ? Number(text.replace(',', '.')) : null)

/** What was typed, and the id it is sent under, stay until the server has it. */
let clientId = newId()
watch(
  () => props.repair.events.length,
  () => {
    clientId = newId()
    note.value = ''
    minutes.value = ''
  },
)
function say(kind: EventKind, more: Partial<EventIn> = {}): void {
  emit('happened', { client_id: clientId, kind, value: '', note: note.value, ...more })
}
async function picture(kind: 'before' | 'after', event: Event): Promise<void> {
  const [file] = (event.target as HTMLInputElement).files ?? []
  if (!file) return
  failed.value = ''
  try {
    say(kind, { photo_id: await keepRepairPhoto(props.repair.id, file) })
  } catch (error) {
    failed.value = error instanceof Error ? error.message : 'The picture was not stored.'
  }
}
</script>

<template>
  <li :class="{ over: !open }">
    <p class="top">
      <b>{{ repair.label }}</b>
      <span :class="repair.state === 'closed' ? '' : 'soft'">
        {{ repair.state === 'closed' ? '✓ closed' : labelOf('RepairState', repair.state) }}
      </span>
      <span class="soft small end">
        <template v-if="repair.minutes_taken !== null"
          >took {{ timeText(repair.minutes_taken) }},
        </template>
        <template v-if="repair.method.minutes"
          >planned {{ timeText(repair.method.minutes) }}</template
        >
      </span>
    </p>
    <p v-if="open">{{ repair.method.what }}</p>
    <p v-if="open && repair.method.grits.length" class="grits">
      <template v-for="(grit, i) in repair.method.grits" :key="grit"
        ><span v-if="i" class="soft"> → </span><b>{{ grit }}</b></template
      >
      <span class="soft small materials">{{ repair.method.materials.join(', ') }}</span>
    </p>
    <p v-if="repair.note" class="soft small">“{{ repair.note }}”</p>
    <p v-if="open" class="small soft">⚠ {{ repair.method.caution }}</p>
    <p v-if="pictures.length" class="pictures">
      <a
        v-for="p in pictures"
        :key="p.photo_id ?? 0"
        :href="addressOf(`/api/bench/photos/${p.photo_id}`)"
        target="_blank"
      >
        <img
          :src="addressOf(`/api/bench/photos/${p.photo_id}`)"
          :alt="`${repair.label}, ${labelOf('EventKind', p.kind)}`"
        />
        <span class="small soft">{{ labelOf('EventKind', p.kind) }}</span>
      </a>
    </p>
    <div v-if="open" v-needs="'measure'" class="does no-print">
      <template v-if="!done">
        <v-text-field v-model="minutes" label="minutes it took" inputmode="decimal" />
        <v-btn
          :loading="busy"
          :disabled="Number.isNaN(number(minutes))"
          @click="say('done', { minutes: number(minutes) })"
        >
          {{ repair.method.returns ? 'Sent back' : 'Done' }}
        </v-btn>
      </template>
      <template v-else>
        <span>Re-check: {{ repair.method.recheck }}</span>
        <v-btn
          color="primary"
          variant="flat"
          :loading="busy"
          @click="say('recheck', { value: 'fine' })"
        >
          Passed
        </v-btn>
        <v-btn :loading="busy" @click="say('recheck', { value: 'mend' })">Not yet right</v-btn>
      </template>
      <label v-for="kind in ['before', 'after'] as const" :key="kind" class="small picture">
        picture {{ kind }}
        <input type="file" accept="image/*" capture="environment" @change="picture(kind, $event)" />
      </label>
    </div>
    <details v-if="open" class="small no-print">
      <summary class="soft">Drop this repair</summary>
      <div class="does">
        <v-text-field v-model="note" label="why" maxlength="400" />
        <v-btn :disabled="!note.trim()" @click="say('dropped')">Drop</v-btn>
      </div>
    </details>
    <p v-if="failed" class="rust" role="alert">⚠ {{ failed }}</p>
    <ul v-if="repair.events.length" class="small soft events">
      <li v-for="(e, i) in repair.events" :key="i">
        {{ dayText(e.at) }} {{ labelOf('EventKind', e.kind) }}{{ e.value ? `: ${e.value}` : ''
        }}{{ e.minutes === null ? '' : `, ${timeText(e.minutes)}`
        }}{{ e.note ? `, ${e.note}` : '' }}, {{ e.person }}
      </li>
    </ul>
  </li>
</template>

<style scoped>
li {
  padding: 8px 0;
  border-bottom: 1px solid var(--hairline);
}

.over {
  color: var(--soft-ink);
}

.top {
  display: flex;
  gap: 14px;
  align-items: baseline;
}

.materials {
  margin-left: 10px;
}

p {
  margin: 2px 0;
}

.does {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin: 8px 0 4px;
}

.does .v-input {
  max-width: 170px;
}

.picture {
  position: relative;
  text-decoration: underline;
  color: var(--measured);
  cursor: pointer;
  overflow: hidden;
  padding: 6px 0;
}

.picture input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
}

.picture:focus-within {
  outline: 2px solid var(--measured);
}

.pictures {
  display: flex;
  gap: 10px;
}

.pictures a {
  display: grid;
}

img {
  height: 84px;
  border: 1px solid var(--hairline);
}

.events {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}

.events li {
  padding: 0;
  border: 0;
}
</style>
