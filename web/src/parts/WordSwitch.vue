<script setup lang="ts" generic="T extends string | boolean">
import { useId } from 'vue'

/** A choice of a few words side by side; the chosen one is underlined. */
defineProps<{ legend: string; choices: readonly (readonly [value: T, word: string])[] }>()
const chosen = defineModel<T>({ required: true })
const name = useId()
</script>

<template>
  <fieldset class="switch">
    <legend class="visually-hidden">{{ legend }}</legend>
    <label v-for="[value, word] in choices" :key="word" :class="{ on: chosen === value }">
      <input v-model="chosen" type="radio" :name="name" :value="value" />
      {{ word }}
    </label>
  </fieldset>
</template>
