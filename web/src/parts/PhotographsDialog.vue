<script setup lang="ts">
import PhotographPanel from './PhotographPanel.vue'

/** Photographs of a knife over the station where it lies, so that they are taken there. */
defineProps<{ pieceId: number }>()
const open = defineModel<boolean>({ required: true })
</script>

<template>
  <v-dialog v-model="open" max-width="960" aria-labelledby="photographs">
    <div class="dialog-panel">
      <PhotographPanel :piece-id="pieceId" />
      <p class="buttons"><v-btn @click="open = false">Close</v-btn></p>
    </div>
  </v-dialog>
</template>

<style scoped>
.dialog-panel {
  max-height: calc(100vh - 48px);
  overflow-y: auto;
}
</style>
