<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, data } from '@/api/client'
import { stored } from './stored'

/** Asks what labels are printed on; `href` is the PDF of them without that. */
const props = defineProps<{ href: string; text: string }>()

const KEPT = 'maple-rook.labels'
const open = ref(false)
const stock = ref(stored<{ key?: string }>(KEPT, {}).key ?? 'roll_90')
const first = ref(1)
const found = useQuery({
  queryKey: ['label-stocks'],
  queryFn: () => data(api.GET('/api/label-stocks')),
  enabled: open,
  staleTime: Infinity,
})
const stocks = computed(() =>
  (found.data.value ?? []).map((s) => ({ value: s.key as string, title: s.name })),
)
const places = computed(() => found.data.value?.find((s) => s.key === stock.value)?.places ?? 1)
const address = computed(() => {
  const from = Math.min(Math.max(Math.round(first.value) || 1, 1), places.value)
  const on = new URLSearchParams({ stock: stock.value, first: String(from) })
  return `${props.href}${props.href.includes('?') ? '&' : '?'}${on}`
})

function printed() {
  localStorage.setItem(KEPT, JSON.stringify({ key: stock.value }))
  open.value = false
}
</script>

<template>
  <button type="button" class="plain link" @click="open = true">{{ text }}</button>
  <v-dialog v-model="open" max-width="420" aria-labelledby="print-labels">
    <div class="dialog-panel fields">
      <h2 id="print-labels">Print labels</h2>
      <v-select v-model="stock" v-focus :items="stocks" label="Label stock" />
      <v-text-field
        v-if="places > 1"
        v-model.number="first"
        type="number"
        min="1"
        :max="places"
        label="First free label on the sheet"
        :hint="`1 to ${places}, counted row by row`"
        persistent-hint
      />
      <p class="soft small">
        Print at 100 %, without “fit to page”: labels are exactly as large as they say.
      </p>
      <p class="buttons">
        <v-btn
          :href="address"
          download
          class="download"
          color="primary"
          variant="flat"
          @click="printed"
        >
          Download PDF
        </v-btn>
        <v-btn variant="text" @click="open = false">Cancel</v-btn>
      </p>
    </div>
  </v-dialog>
</template>

<style scoped>
.link {
  color: var(--measured);
  text-decoration: underline;
}

.download {
  color: rgb(var(--v-theme-on-primary));
}
</style>
