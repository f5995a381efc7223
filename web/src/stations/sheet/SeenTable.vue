<script setup lang="ts">
import { computed } from 'vue'
import { addressOf } from '@/api/base'
import { useCatalogue } from '@/api/catalogue'
import type { ObservationOut } from '@/api/schema'

/** What was seen of the knife, by stop: construction, hand, finish, cuts, verdict. */
const props = defineProps<{ seen: ObservationOut[] }>()

const { catalogue, items } = useCatalogue()
const GRAVE = new Set(['mend', 'reject', 'return'])
const groups = computed(() =>
  (catalogue.value?.stops ?? []).flatMap((stop) => {
    const rows = props.seen.filter((o) => o.stop === stop.key)
    return rows.length ? [{ label: stop.label, rows }] : []
  }),
)
const aspect = (o: ObservationOut) =>
  items.value.get(o.item)?.aspects.find((a) => a.key && a.key === o.aspect)?.label ?? ''
</script>

<template>
  <table>
    <tbody v-for="group in groups" :key="group.label">
      <tr v-for="(o, i) in group.rows" :key="o.id">
        <th scope="rowgroup">{{ i === 0 ? group.label : '' }}</th>
        <td>
          {{ o.label }} <span v-if="aspect(o)" class="soft">{{ aspect(o) }}</span>
        </td>
        <td>
          <span :class="{ rust: GRAVE.has(o.value) }">
            {{ GRAVE.has(o.value) ? '⚠ ' : '' }}{{ o.text || o.note }}
          </span>
          <span v-if="o.text && o.note" class="soft">, {{ o.note }}</span>
          <a v-if="o.photo_id" :href="addressOf(`/api/bench/photos/${o.photo_id}`)" target="_blank">
            photo</a
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>
