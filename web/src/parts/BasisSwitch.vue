<script setup lang="ts">
import { kitchen } from './kitchen'

/** Whether predictions are computed as published or with the shop's own trials. */
const BASES = ['published', 'calibrated'] as const
</script>

<template>
  <fieldset class="switch">
    <legend class="visually-hidden">Predictions computed</legend>
    <label v-for="basis in BASES" :key="basis" :class="{ on: kitchen.basis === basis }">
      <input v-model="kitchen.basis" type="radio" name="basis" :value="basis" />
      {{ basis }}
    </label>
  </fieldset>
</template>
