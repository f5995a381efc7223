<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, onUnmounted, ref, watch } from 'vue'
import { api, data } from '@/api/client'
import type { WholeTrial } from '@/api/schema'
import { decimal } from './protocol'
import { newId } from '@/api/id'

/** The points of a trial: typed one by one, or run on its tester; each can be struck. */
const props = defineProps<{ trial: WholeTrial }>()
const emit = defineEmits<{ shown: [trial: WholeTrial] }>()

const queries = useQueryClient()
const path = computed(() => ({ params: { path: { trial_id: props.trial.id } } }))

const CYCLES = 60
const x = ref('')
const read = ref('')
const log = computed(() => props.trial.kind === 'kitchen')
const EVENTS = ['start', 'rod', 'stone', 'end'] as const
const next = computed(() => {
  const last = props.trial.series.at(-1)?.x
  if (props.trial.kind === 'line') return last === undefined ? 0 : last + 20
  return (last ?? 0) + 1
})
watch(
  () => [props.trial.id, props.trial.series.length],
  () => {
    const done = props.trial.kind === 'card' && next.value > CYCLES
    x.value = log.value || done ? '' : String(next.value)
    read.value = ''
  },
  { immediate: true },
)
const add = useMutation({
  mutationFn: (event: (typeof EVENTS)[number] | null) =>
    data(
      api.POST('/api/trials/{trial_id}/points', {
        ...path.value,
        body: {
          points: [
            {
              client_id: newId(),
              x: decimal(x.value),
              value: event ? null : decimal(read.value),
              event,
            },
          ],
        },
      }),
    ),
  onSuccess: (trial) => emit('shown', trial),
})
const strike = useMutation({
  mutationFn: (at: number) =>
    data(
      api.POST('/api/trials/{trial_id}/points', {
        ...path.value,
        body: { points: [{ client_id: newId(), x: at }] },
      }),
    ),
  onSuccess: (trial) => emit('shown', trial),
})

const running = ref(false)
const stopped = ref('')
async function run(): Promise<void> {
  running.value = true
  stopped.value = ''
  const { id, kind } = props.trial
  const many = kind === 'card' ? CYCLES : props.trial.series.length + 1
  try {
    for (let done = props.trial.series.length; running.value && done < many; done++) {
      await data(
        api.POST('/api/trials/{trial_id}/cycle', {
          params: {
            path: { trial_id: id },
            query: kind === 'card' ? {} : { cuts: decimal(x.value) },
          },
          parseAs: 'text',
        }),
      )
      const now = await data(
        api.GET('/api/trials/{trial_id}', { params: { path: { trial_id: id } } }),
      )
      queries.setQueryData(['trials', id], now)
    }
  } catch (error) {
    stopped.value = error instanceof Error ? error.message : String(error)
  }
  running.value = false
  emit(
    'shown',
    await data(api.GET('/api/trials/{trial_id}', { params: { path: { trial_id: id } } })),
  )
}
onUnmounted(() => (running.value = false))
watch(
  () => props.trial.id,
  () => (running.value = false),
)
</script>

<template>
  <div>
    <h3>Points</h3>
    <p class="soft small">{{ trial.method }}</p>
    <div v-if="trial.source === 'tester'" v-needs="'measure'" class="buttons">
      <v-btn
        v-if="!running"
        :disabled="trial.kind === 'card' && trial.points >= CYCLES"
        @click="run"
      >
        {{ trial.kind === 'card' ? 'Run the cycles' : 'Cut the line' }}
      </v-btn>
      <v-btn v-else @click="running = false">Stop after this cycle</v-btn>
      <v-text-field
        v-if="trial.kind === 'line'"
        v-model="x"
        label="Cuts before"
        inputmode="decimal"
        class="short"
      />
      <span v-if="running" class="soft" role="status">
        Cycle {{ trial.series.length + 1 }} of {{ CYCLES }}…
      </span>
      <span v-if="stopped" class="rust" role="alert"
        >⚠ {{ stopped }} Cycles read so far are stored.</span
      >
    </div>
    <form
      v-else
      v-needs="'measure'"
      class="entry"
      @submit.prevent="log ? undefined : add.mutate(null)"
    >
      <v-text-field v-model="x" :label="trial.x_label" inputmode="decimal" class="short" />
      <template v-if="log">
        <v-btn
          v-for="event in EVENTS"
          :key="event"
          :disabled="!Number.isFinite(decimal(x))"
          @click="add.mutate(event)"
        >
          {{ event }}
        </v-btn>
      </template>
      <template v-else>
        <v-text-field v-model="read" :label="trial.value_label" inputmode="decimal" class="short" />
        <v-btn
          type="submit"
          :disabled="!Number.isFinite(decimal(x)) || !Number.isFinite(decimal(read))"
        >
          Store
        </v-btn>
      </template>
    </form>
    <p v-if="add.error.value" class="rust" role="alert">⚠ {{ add.error.value.message }}</p>
    <details v-if="trial.series.length">
      <summary class="small">{{ trial.series.length }} points</summary>
      <ul class="points small">
        <li v-for="p in trial.series" :key="p.x">
          <span class="soft">{{ p.x }}</span> {{ p.value ?? p.event }}
          <button
            v-needs="'measure'"
            type="button"
            class="plain soft"
            :aria-label="`Strike ${trial.x_label} ${p.x}`"
            @click="strike.mutate(p.x)"
          >
            ×
          </button>
        </li>
      </ul>
    </details>
  </div>
</template>

<style scoped>
h3 {
  margin: 12px 0 4px;
  font-size: var(--size-m);
}

p {
  margin: 0 0 6px;
}

.entry {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  margin-top: 8px;
}

.short {
  max-width: 160px;
}

.points {
  columns: 6;
  list-style: none;
  margin: 6px 0;
  padding: 0;
}

@media (max-width: 699px) {
  .points {
    columns: 3;
  }
}
</style>
