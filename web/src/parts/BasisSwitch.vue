<script setup lang="ts">
import { kitchen } from './kitchen'
import WordSwitch from './WordSwitch.vue'

/** Whether predictions are computed as published or with the shop's own trials. */
const BASES = [
  ['published', 'published'],
  ['calibrated', 'calibrated'],
] as const
</script>

<template>
  <WordSwitch v-model="kitchen.basis" legend="Predictions computed" :choices="BASES" />
</template>
