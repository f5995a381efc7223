<script setup lang="ts">
import { useCatalogue } from '@/api/catalogue'
import { kitchen } from './kitchen'

const { catalogue } = useCatalogue()
</script>

<template>
  <div class="kitchen no-print" role="group" aria-label="Kitchen">
    <span class="soft small">For a kitchen:</span>
    <v-select v-model="kitchen.use" :items="catalogue?.uses ?? []" label="use" />
    <v-select v-model="kitchen.board" :items="catalogue?.boards ?? []" label="board" />
    <v-select v-model="kitchen.technique" :items="catalogue?.techniques ?? []" label="technique" />
    <v-checkbox v-model="kitchen.honed" label="honed regularly" />
  </div>
</template>

<style scoped>
.kitchen {
  display: flex;
  align-items: center;
  gap: 10px;
  margin: 16px 0 12px;
}

.kitchen > .v-input {
  max-width: 168px;
}

@media (max-width: 699px) {
  .kitchen {
    flex-wrap: wrap;
  }
}
</style>
