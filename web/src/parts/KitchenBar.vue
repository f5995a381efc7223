<script setup lang="ts">
import { items, useCatalogue } from '@/api/catalogue'
import BasisSwitch from './BasisSwitch.vue'
import { kitchen } from './kitchen'

/** `short` leaves out what only matters for cutting. */
defineProps<{ short?: boolean }>()

const { catalogue } = useCatalogue()
</script>

<template>
  <div class="kitchen no-print" role="group" aria-label="Kitchen">
    <span class="soft small">For a kitchen:</span>
    <v-select v-model="kitchen.use" :items="items(catalogue?.uses)" label="use" />
    <v-select v-model="kitchen.board" :items="items(catalogue?.boards)" label="board" />
    <v-select v-model="kitchen.technique" :items="items(catalogue?.techniques)" label="technique" />
    <template v-if="!short">
      <v-select v-model="kitchen.food_mix" :items="items(catalogue?.food_mixes)" label="cuts" />
      <v-select v-model="kitchen.edge" :items="items(catalogue?.edges)" label="edge" />
    </template>
    <v-checkbox v-model="kitchen.honed" label="honed regularly" />
    <BasisSwitch />
    <RouterLink v-if="!short" to="/board/foods" class="small">foods</RouterLink>
  </div>
</template>

<style scoped>
.kitchen {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 8px 10px;
  margin: 12px 0;
}

.kitchen > .v-input {
  max-width: 168px;
}
</style>
