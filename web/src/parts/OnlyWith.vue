<script setup lang="ts">
import { computed } from 'vue'
import { may } from '@/api/session'
import type { May } from '@/api/schema'

/** What only some may do; the others read why it is not there. `quiet` says nothing. */
const props = defineProps<{ needs: May; quiet?: boolean }>()

const allowed = computed(() => may(props.needs))
const WHO: Partial<Record<May, string>> = {
  advise: 'Only who advises at the counter changes this.',
  measure: 'Only who works at the bench changes this.',
  'take out': 'Only who works at the bench takes tables out.',
  'bring in': 'Only who works at the bench brings tables in.',
  set: 'Only an owner changes this.',
  govern: 'Only an owner sees this.',
}
</script>

<template>
  <slot v-if="allowed" />
  <p v-else-if="!quiet" class="soft small">{{ WHO[needs] }}</p>
</template>
