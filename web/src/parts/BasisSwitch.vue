<script setup lang="ts">
import { kitchen } from './kitchen'

/** Whether edge life is computed as published or with the shop's own trials. */
const BASES = ['published', 'calibrated'] as const
</script>

<template>
  <fieldset class="switch">
    <legend class="visually-hidden">Edge life computed</legend>
    <label v-for="basis in BASES" :key="basis" :class="{ on: kitchen.basis === basis }">
      <input v-model="kitchen.basis" type="radio" name="basis" :value="basis" />
      {{ basis }}
    </label>
  </fieldset>
</template>
