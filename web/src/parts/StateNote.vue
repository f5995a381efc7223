<script setup lang="ts">
import { onMounted, ref } from 'vue'

/** Words while something loads (after 400 ms), or what went wrong and what to do. */
const props = defineProps<{ error?: Error | null; waiting: string; retry?: () => void }>()

const late = ref(false)
onMounted(() => setTimeout(() => (late.value = true), 400))
</script>

<template>
  <div class="note" role="status">
    <template v-if="props.error">
      <p class="rust"><strong>Could not do that.</strong> {{ props.error.message }}</p>
      <p class="soft">Nothing you entered is lost.</p>
      <v-btn v-if="retry" @click="retry()">Try again</v-btn>
    </template>
    <p v-else-if="late" class="soft">{{ waiting }}</p>
  </div>
</template>

<style scoped>
.note {
  min-height: 200px;
  padding: 24px 0;
}
</style>
