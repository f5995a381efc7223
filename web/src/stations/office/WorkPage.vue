<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import type { TaskOut } from '@/api/schema'
import StateNote from '@/parts/StateNote.vue'
import OfficeTabs from '@/parts/OfficeTabs.vue'
import { momentText } from '@/parts/moments'

/** What the shop works on in the background: how far it is, stopped, asked for again. */
const LOOK_AGAIN_MS = { busy: 1000, idle: 10_000 }
const client = useQueryClient()
const found = useQuery({
  queryKey: ['tasks'],
  queryFn: () => data(api.GET('/api/tasks')),
  refetchInterval: (query) =>
    query.state.data?.files.length || query.state.data?.tasks.some(atWork)
      ? LOOK_AGAIN_MS.busy
      : LOOK_AGAIN_MS.idle,
})
const looked = computed(() => found.data.value)
const again = () => client.invalidateQueries({ queryKey: ['tasks'] })
const ask = useMutation({
  mutationFn: (kind: TaskOut['kind']) => data(api.POST('/api/tasks', { body: { kind } })),
  onSettled: again,
})
const stop = useMutation({
  mutationFn: (id: number) =>
    data(api.POST('/api/tasks/{task_id}/stop', { params: { path: { task_id: id } } })),
  onSettled: again,
})
const wrong = computed(() => ask.error.value ?? stop.error.value)

const KINDS = computed(() => [
  {
    kind: 'shelf' as const,
    name: 'Recalculate the shelf',
    about: `Calculates every prediction on the Rack and at the Counter from the readings again. This happens by itself when something changes; use it when a figure looks wrong.`,
    any: looked.value?.pieces,
    of: `${number(looked.value?.pieces)} pieces, ${
      looked.value?.behind ? `${number(looked.value.behind)} waiting` : 'none waiting'
    }`,
  },
  {
    kind: 'photos' as const,
    name: 'Measure every photo again',
    about: `Measures the stored photos again with their settings and checks that the results are the same. Nothing is written.`,
    any: looked.value?.photos,
    of: `${number(looked.value?.photos)} taken over`,
  },
])
const running = (kind: string) =>
  looked.value?.tasks.find((task) => task.kind === kind && atWork(task))

function atWork(task: TaskOut): boolean {
  return task.state === 'waiting' || task.state === 'running'
}
function number(value?: number): string {
  return (value ?? 0).toLocaleString('en')
}
const NAMES = { shelf: 'the shelf', photos: 'photos' }
function outcome(task: TaskOut): string {
  if (task.state === 'failed') return task.problem
  if (task.state === 'waiting') return 'queued'
  if (task.stopping) return 'stops at the next step'
  const counted = task.total ? `${number(task.done)} of ${number(task.total)}` : 'just begun'
  if (task.state !== 'done') return counted
  if (task.kind === 'shelf') return `${number(task.total)} pieces recalculated`
  const differ = task.differs.length
  return differ
    ? `${number(task.total)} measured again, ${differ} different from the stored result`
    : `${number(task.total)} measured again, all the same as stored`
}
const moment = (at: string | null) => (at ? momentText(at) : '')
</script>

<template>
  <OfficeTabs />
  <StateNote
    v-if="!looked"
    :error="found.error.value"
    waiting="Looking what is being worked on…"
    :retry="() => found.refetch()"
  />
  <template v-else>
    <section class="kinds" aria-label="Tasks">
      <article v-for="kind in KINDS" :key="kind.kind" class="kind">
        <h2>{{ kind.name }}</h2>
        <p class="soft">{{ kind.about }}</p>
        <p>{{ kind.of }}</p>
        <template v-if="running(kind.kind)">
          <v-progress-linear
            :model-value="running(kind.kind)!.done"
            :max="running(kind.kind)!.total || 1"
            :indeterminate="!running(kind.kind)!.total"
            :aria-label="`${kind.name}: how far it is`"
            height="6"
          />
          <p role="status">{{ outcome(running(kind.kind)!) }}</p>
          <v-btn
            v-needs="'bring_in'"
            :disabled="running(kind.kind)!.stopping"
            @click="stop.mutate(running(kind.kind)!.id)"
          >
            Stop
          </v-btn>
        </template>
        <v-btn v-else v-needs="'bring_in'" :disabled="!kind.any" @click="ask.mutate(kind.kind)">
          {{ kind.name }}
        </v-btn>
      </article>
      <article v-for="file in looked.files" :key="file.id" class="kind">
        <h2>{{ file.for_good ? 'Importing' : 'Trying' }} {{ file.file }}</h2>
        <v-progress-linear
          indeterminate
          height="6"
          :aria-label="`${file.file} is being worked on`"
        />
        <p role="status">{{ number(file.done) }} rows done</p>
        <p><RouterLink to="/office/in">Stop it on the page where it was started</RouterLink></p>
      </article>
    </section>
    <p v-if="wrong" class="rust" role="alert">{{ wrong.message }}</p>
    <template v-if="looked.quarantined.length">
      <h2>Not calculated</h2>
      <p class="soft">
        These could not be calculated, so lists show their previous figures. They are tried again
        when something about them changes; the log has the details.
      </p>
      <ul class="aside">
        <li v-for="one in looked.quarantined" :key="one.piece_id">
          <RouterLink :to="`/sheet/${one.piece_id}`">{{ one.tag }}</RouterLink>
          {{ ' ' }}{{ one.why }}
        </li>
      </ul>
    </template>
    <template v-if="looked.tasks.length">
      <h2>Lately</h2>
      <table>
        <thead>
          <tr>
            <th>asked</th>
            <th>by</th>
            <th>what</th>
            <th>how it went</th>
            <th>ended</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="task in looked.tasks" :key="task.id">
            <td class="soft when">{{ moment(task.asked_at) }}</td>
            <td>{{ task.person ?? 'the shop itself' }}</td>
            <td>{{ NAMES[task.kind] }}</td>
            <td>
              <span v-if="task.state === 'stopped'">stopped, </span>{{ outcome(task) }}
              <ul v-if="task.differs.length" class="differs">
                <li v-for="(one, i) in task.differs" :key="i">
                  <RouterLink :to="`/bench/${one.sheet_id}/photo`">{{ one.tag }}</RouterLink>
                  {{ ' ' }}{{ one.why }}
                </li>
              </ul>
            </td>
            <td class="soft when">{{ moment(task.ended_at) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </template>
</template>

<style scoped>
.kinds {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 330px), 1fr));
  gap: 16px;
  margin-bottom: 22px;
}

.kind {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 8px;
  padding: 14px 16px 16px;
  border: 1px solid var(--hairline);
  border-radius: 4px;
  background: var(--panel);
}

.kind p,
.kind h2 {
  margin: 0;
}

.kind .v-btn {
  margin-top: auto;
}

.when {
  white-space: nowrap;
}

.aside {
  margin: 0 0 22px;
  padding-left: 18px;
}

.differs {
  margin: 4px 0 0;
  padding-left: 18px;
}
</style>
