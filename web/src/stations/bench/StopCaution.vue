<script setup lang="ts">
import { computed } from 'vue'
import { useCatalogue } from '@/api/catalogue'

/** What to mind at this stop. */
const props = defineProps<{ stop: string }>()
const { catalogue } = useCatalogue()
const caution = computed(() => catalogue.value?.cautions[props.stop])
</script>

<template>
  <p v-if="caution" class="soft small" role="note">⚠ {{ caution }}</p>
</template>
