<script setup lang="ts">
import { labelOf } from '@/api/catalogue'
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import type { EventIn, FaultKey, WorkOut } from '@/api/schema'
import { rounded } from '@/parts/numbers'
import StateNote from '@/parts/StateNote.vue'
import { timeText, useWrite } from './care'
import RepairCard from './RepairCard.vue'
import { newId } from '@/api/id'
import { dayText } from '@/parts/moments'

/** From a fault the Bench marked to a repair done, re-checked and back on the shelf. */
const props = defineProps<{ pieceId: number }>()

const key = () => ['upkeep', 'work-of', props.pieceId]
const query = useQuery({
  queryKey: computed(key),
  queryFn: () =>
    data(api.GET('/api/pieces/{piece_id}/work', { params: { path: { piece_id: props.pieceId } } })),
})
const work = computed<WorkOut | undefined>(() => query.data.value)
const free = computed(() => work.value?.faults.filter((f) => !f.ordered) ?? [])
const minutes = computed(() => free.value.reduce((sum, f) => sum + f.method.minutes, 0))
const cost = (time: number) => (time / 60) * (work.value?.hourly_rate ?? 0)

let clientId = newId()
const order = useWrite(async (faults: FaultKey[]) => {
  const made = await data(
    api.POST('/api/pieces/{piece_id}/work', {
      params: { path: { piece_id: props.pieceId } },
      body: { client_id: clientId, faults },
    }),
  )
  clientId = newId()
  return made
}, key)
const write = useWrite(
  ({ repairId, body }: { repairId: number; body: EventIn }) =>
    data(
      api.POST('/api/upkeep/repairs/{repair_id}/events', {
        params: { path: { repair_id: repairId } },
        body,
      }),
    ),
  key,
)
const MARK: Record<string, string> = { ready: '✓', return: '⚠', needs_work: '●' }
</script>

<template>
  <StateNote
    v-if="!work"
    :error="query.error.value"
    waiting="Looking at the faults…"
    :retry="() => query.refetch()"
  />
  <div v-else class="work">
    <section aria-label="Faults">
      <h2>{{ work.piece.tag }}: faults that stand</h2>
      <p class="shelf" role="status" :class="{ rust: work.shelf === 'return' }">
        The shelf says: <b>{{ MARK[work.shelf] ?? '' }} {{ labelOf('Shelf', work.shelf) }}</b>
      </p>
      <table v-if="work.faults.length">
        <thead>
          <tr>
            <th>fault</th>
            <th>mend</th>
            <th class="number">time</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in work.faults" :key="f.item + f.aspect">
            <td>
              <b>{{ f.label }}</b>
              <span class="small" :class="f.severity === 'minor' ? 'soft' : 'rust'">
                {{ f.severity === 'minor' ? 'minor' : `⚠ ${f.severity}` }}
              </span>
              <span v-if="f.note" class="soft small note">{{ f.note }}</span>
            </td>
            <td>
              {{ f.method.what }}
              <span class="soft small note">
                <template v-if="f.method.grits.length">{{ f.method.grits.join(' → ') }} · </template
                >{{ f.method.materials.join(', ') }}
              </span>
            </td>
            <td class="number">
              {{ f.ordered ? 'ordered' : f.method.returns ? '' : timeText(f.method.minutes) }}
            </td>
          </tr>
        </tbody>
      </table>
      <p v-else class="soft">
        None. Faults marked at the Bench under Finish, or at sign-off, appear here.
      </p>
      <p v-if="free.length" v-needs="'measure'" class="order">
        <v-btn
          color="primary"
          variant="flat"
          :loading="order.isPending.value"
          @click="order.mutate([])"
        >
          Order {{ free.length === 1 ? 'this repair' : `these ${free.length} repairs` }}
        </v-btn>
        <span>
          {{ timeText(minutes) }}
          <span v-if="work.hourly_rate" class="soft"
            >· {{ rounded(cost(minutes), 1) }} {{ work.currency }}</span
          >
        </span>
      </p>
      <p v-if="order.error.value" class="rust" role="alert">⚠ {{ order.error.value.message }}</p>
      <p v-for="caution in work.cautions" :key="caution" class="soft small">⚠ {{ caution }}</p>
    </section>

    <section aria-label="Orders">
      <h2>Orders</h2>
      <p v-if="write.error.value" class="rust" role="alert">⚠ {{ write.error.value.message }}</p>
      <p v-if="!work.orders.length" class="soft">Nothing ordered yet.</p>
      <article v-for="o in work.orders" :key="o.id">
        <h3>
          Order {{ o.id }}
          <span class="soft small"
            >{{ dayText(o.ordered_at) }}, {{ o.person
            }}<template v-if="o.open_minutes">
              · {{ timeText(o.open_minutes) }} to do</template
            ></span
          >
        </h3>
        <ol>
          <RepairCard
            v-for="j in o.repairs"
            :key="j.id"
            :repair="j"
            :busy="write.isPending.value"
            @happened="(body) => write.mutate({ repairId: j.id, body })"
          />
        </ol>
      </article>
    </section>
  </div>
</template>

<style scoped>
.work {
  display: grid;
  grid-template-columns: minmax(0, 6fr) minmax(0, 7fr);
  gap: 36px;
}

.shelf {
  font-size: var(--size-l);
  margin: 2px 0 10px;
}

td .small:not(.note) {
  margin-left: 8px;
  white-space: nowrap;
}

.note {
  display: block;
}

.order {
  display: flex;
  gap: 14px;
  align-items: center;
  margin: 12px 0;
}

h3 {
  font-size: var(--size-m);
  margin: 4px 0;
}

h3 .small {
  font-family: var(--sans);
  font-weight: 400;
  margin-left: 8px;
}

ol {
  list-style: none;
  margin: 0 0 14px;
  padding: 0;
}

p {
  margin: 4px 0;
}

@media (max-width: 699px) {
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
