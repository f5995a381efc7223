<script setup lang="ts">
import { kitchen } from './kitchen'

/** Whether edge life is reckoned as published or with the shop's own trials. */
const BASES = ['published', 'calibrated'] as const
</script>

<template>
  <fieldset class="basis">
    <legend class="visually-hidden">Edge life reckoned</legend>
    <label v-for="basis in BASES" :key="basis" :class="{ on: kitchen.basis === basis }">
      <input v-model="kitchen.basis" type="radio" name="basis" :value="basis" />
      {{ basis }}
    </label>
  </fieldset>
</template>

<style scoped>
.basis {
  display: inline-flex;
  margin: 0;
  padding: 0;
  border: 1px solid var(--hairline);
  border-radius: 3px;
}

label {
  position: relative;
  padding: 6px 10px;
  cursor: pointer;
  color: var(--soft-ink);
}

label.on {
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 0 -3px 0 var(--predicted);
}

input {
  appearance: none;
  position: absolute;
  inset: 0;
  margin: 0;
  cursor: pointer;
}

label:has(:focus-visible) {
  outline: 2px solid var(--measured);
  outline-offset: 2px;
}
</style>
