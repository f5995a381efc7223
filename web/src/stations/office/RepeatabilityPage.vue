<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, data } from '@/api/client'
import { newId } from '@/api/id'
import type { RepeatabilitiesOut, RepeatabilityOut } from '@/api/schema'
import OfficeTabs from '@/parts/OfficeTabs.vue'
import StateNote from '@/parts/StateNote.vue'
import RepeatStudy from './RepeatStudy.vue'
import { deviation } from './scatter'
import { dayText } from '@/parts/moments'

/** How closely readings repeat: what is assumed, what the record shows, what counts. */
const queries = useQueryClient()
const key = ['repeatability']
const found = useQuery({
  queryKey: key,
  queryFn: () => data(api.GET('/api/repeatability')),
})
const studying = ref(false)

function counted(now: RepeatabilitiesOut): void {
  queries.setQueryData(key, now)
  studying.value = false
  for (const other of ['sheet', 'board', 'rack', 'bench', 'trials']) {
    void queries.invalidateQueries({ queryKey: [other] })
  }
}
const adopt = useMutation({
  mutationFn: (asked: { row: RepeatabilityOut; own: boolean }) =>
    data(
      api.POST('/api/repeatability', {
        body: {
          client_id: newId(),
          quantity: asked.row.quantity,
          instrument_id: asked.row.instrument_id,
          own: asked.own,
        },
      }),
    ),
  onSuccess: counted,
})
</script>

<template>
  <OfficeTabs />
  <StateNote
    v-if="!found.data.value"
    :error="found.error.value"
    waiting="Counting the repeats…"
    :retry="() => found.refetch()"
  />
  <div v-else>
    <h2>Repeatability</h2>
    <p class="soft intro">
      The standard deviation of a single reading of the same thing. A single reading does not show
      it, so every uncertainty combines what is usual at a bench, as three degrees of freedom, with
      the repeats on the sheet. Adopt your own where your record has enough repeats, or run a repeat
      study; every figure is then recalculated.
    </p>
    <p v-if="adopt.error.value" class="rust" role="alert">⚠ {{ adopt.error.value.message }}</p>
    <div v-if="found.data.value.rows.length" class="scroll">
      <table>
        <thead>
          <tr>
            <th>quantity</th>
            <th>instrument</th>
            <th class="number">usual</th>
            <th class="number">yours</th>
            <th class="number">repeats</th>
            <th class="number">counts</th>
            <th class="number">between people</th>
            <th>unit</th>
            <th>since</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in found.data.value.rows" :key="`${row.quantity} ${row.instrument_id}`">
            <td>{{ row.label }}</td>
            <td class="soft">{{ row.instrument }}</td>
            <td class="number soft">{{ deviation(row.usual) }}</td>
            <td class="number">{{ row.own ? deviation(row.own.deviation) : '–' }}</td>
            <td class="number soft">{{ row.own?.freedom ?? '' }}</td>
            <td class="number">
              <b>{{ deviation(row.used) }}</b>
            </td>
            <td class="number soft">
              {{ row.adopted?.between_people ? deviation(row.adopted.between_people) : '' }}
            </td>
            <td class="unit">{{ row.unit === 'dps' ? '°/side' : row.unit }}</td>
            <td class="soft small">
              <template v-if="row.adopted">
                {{ row.adopted.from_study ? 'study' : 'record' }},
                {{ dayText(row.adopted.recorded_at) }},
                {{ row.adopted.person }}
              </template>
              <template v-else>assumed</template>
            </td>
            <td class="actions">
              <v-btn
                v-if="row.worth_adopting"
                v-needs="'set'"
                size="small"
                :loading="adopt.isPending.value"
                @click="adopt.mutate({ row, own: true })"
              >
                Adopt yours
              </v-btn>
              <button
                v-if="row.adopted"
                v-needs="'set'"
                type="button"
                class="plain link"
                @click="adopt.mutate({ row, own: false })"
              >
                back to usual
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else class="soft">Nothing has been read twice on one sheet yet.</p>
    <p class="soft small">
      Repeats are the readings beyond the first on one sheet, by one person, at one place. Yours can
      be adopted from ten.
    </p>

    <p v-if="!studying" v-needs="'set'">
      <v-btn @click="studying = true">Run a repeat study</v-btn>
    </p>
    <RepeatStudy
      v-else
      :instruments="found.data.value.instruments"
      :people="found.data.value.people"
      @done="counted"
      @leave="studying = false"
    />
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}

td.unit,
th:nth-child(8) {
  padding-left: 18px;
}

.actions {
  text-align: right;
  white-space: nowrap;
}
</style>
