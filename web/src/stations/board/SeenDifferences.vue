<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, data } from '@/api/client'
import type { mark } from '@/parts/letters'

/** What was seen of the knives and is not the same of all: folded away until it is asked for. */
const props = defineProps<{ pieces: number[]; marks: ReturnType<typeof mark>[]; models: boolean }>()

const seen = useQuery({
  queryKey: computed(() => ['board', 'seen', props.pieces, props.models]),
  queryFn: () =>
    data(
      api.GET('/api/board/seen', {
        params: { query: { piece: props.pieces, models: props.models } },
      }),
    ),
})
const rows = computed(() => seen.data.value ?? [])
</script>

<template>
  <details v-if="rows.length">
    <summary>Seen, not measured: {{ rows.length }} differ</summary>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th>what</th>
            <th v-for="m in marks" :key="m.letter" :style="{ color: m.colour }">{{ m.letter }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.label">
            <td>{{ row.label }}</td>
            <td v-for="(text, i) in row.texts" :key="i">
              <template v-if="text">{{ text }}</template>
              <span v-else class="soft" title="not looked at">–</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </details>
</template>

<style scoped>
details {
  margin: 10px 0;
}

summary {
  cursor: pointer;
  padding: 4px 0;
}

.scroll {
  overflow-x: auto;
}
</style>
