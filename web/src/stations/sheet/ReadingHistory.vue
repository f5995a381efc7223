<script setup lang="ts">
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { addressOf } from '@/api/base'
import { useCatalogue } from '@/api/catalogue'
import { api, data } from '@/api/client'
import type { ReadingOut, SheetOfPiece } from '@/api/schema'
import { rounded, unitText } from '@/parts/numbers'
import { dayText } from '@/parts/moments'

/** Every reading ever taken of this piece, voided ones too. */
const props = defineProps<{ sheets: SheetOfPiece[]; history: ReadingOut[] }>()

const { quantities } = useCatalogue()
const open = ref(false)
/** Where the tester pressed, and on which block it was read. */
function where(r: ReadingOut): string {
  const spot = r.above_edge_mm === null ? '' : `, ${r.above_edge_mm} mm above the edge`
  const along = spot && r.along_mm !== null ? `, ${r.along_mm} mm from the heel` : ''
  return `${spot}${along}${r.reference ? `, on ${r.reference}` : ''}`
}
const queries = useQueryClient()
const wrongSheet = ref<number | null>(null)
const why = ref('')
const mend = useMutation({
  mutationFn: (asked: { sheet_id: number; reason: string }) =>
    data(
      api.PUT('/api/mending/sheets/{sheet_id}/set-aside', {
        params: { path: { sheet_id: asked.sheet_id } },
        body: { reason: asked.reason },
      }),
    ),
  onSuccess: () => {
    wrongSheet.value = null
    why.value = ''
  },
  onSettled: () => queries.invalidateQueries(),
})
const setAside = (sheet_id: number) => mend.mutate({ sheet_id, reason: why.value.trim() })
const putBack = (sheet_id: number) => mend.mutate({ sheet_id, reason: '' })
const newestFirst = computed(() => [...props.history].reverse())
</script>

<template>
  <section class="history">
    <h2>History</h2>
    <p v-if="!sheets.length" class="soft">
      Nothing is measured yet. “Measure again” above begins the first sheet.
    </p>
    <ul v-else>
      <li v-for="sheet in sheets" :key="sheet.id">
        Sheet of {{ dayText(sheet.started_at) }} by {{ sheet.person }},
        {{ sheet.readings }} readings,
        <template v-if="sheet.set_aside !== null">
          set aside: “{{ sheet.set_aside }}”
          <button v-needs="'measure'" type="button" class="plain link" @click="putBack(sheet.id)">
            count it again
          </button>
        </template>
        <template v-else>
          {{ sheet.finished_at ? 'signed off' : 'open' }}
          <RouterLink v-if="!sheet.finished_at" v-needs="'measure'" :to="`/bench/${sheet.id}`"
            >continue it</RouterLink
          >
          <button
            v-needs="'measure'"
            type="button"
            class="plain link no-print"
            :aria-expanded="wrongSheet === sheet.id"
            @click="wrongSheet = wrongSheet === sheet.id ? null : sheet.id"
          >
            set it aside
          </button>
          <form v-if="wrongSheet === sheet.id" class="aside" @submit.prevent="setAside(sheet.id)">
            <v-text-field v-model="why" label="Reason for setting it aside" maxlength="200" />
            <v-btn type="submit" :disabled="!why.trim()" :loading="mend.isPending.value">
              Set it aside
            </v-btn>
          </form>
        </template>
      </li>
    </ul>
    <button
      v-if="history.length"
      type="button"
      class="plain grade-M no-print"
      :aria-expanded="open"
      @click="open = !open"
    >
      {{ open ? 'Hide the readings' : `All ${history.length} readings` }}
    </button>
    <table v-if="open">
      <thead>
        <tr>
          <th>quantity</th>
          <th>as typed</th>
          <th class="number">value</th>
          <th>how and where</th>
          <th>when and who</th>
          <th>state</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in newestFirst" :key="r.id">
          <td>
            {{ quantities.get(r.quantity)?.label }} <span class="soft">#{{ r.replicate }}</span>
          </td>
          <td>{{ r.typed }}</td>
          <td class="number">
            {{ rounded(r.si_value, 2) }} <span class="unit">{{ unitText(r.si_unit) }}</span>
          </td>
          <td class="soft">
            {{ r.kind === 'measured' ? r.instrument : r.kind }}{{ where(r) }}
            <template v-if="r.note">: {{ r.note }}</template>
            <a
              v-if="r.photo_id"
              :href="addressOf(`/api/bench/photos/${r.photo_id}`)"
              target="_blank"
              >photo</a
            >
          </td>
          <td class="soft">{{ dayText(r.taken_at) }}, {{ r.person }}</td>
          <td>
            <span v-if="r.voided" class="soft">voided: {{ r.voided }}</span>
            <span v-else-if="r.unusual_confirmed" class="rust">⚠ unusual, confirmed</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.aside {
  display: flex;
  gap: 10px;
  align-items: center;
  max-width: 560px;
  margin: 6px 0;
}

.history {
  margin-top: 24px;
}

ul {
  padding-left: 18px;
  margin: 0 0 8px;
}
</style>
