<script setup lang="ts">
/** Tells the browser's password manager whose password a form is about; nobody else sees it. */
defineProps<{ name: string | undefined }>()
</script>

<template>
  <input
    class="visually-hidden"
    autocomplete="username"
    aria-hidden="true"
    tabindex="-1"
    readonly
    :value="name"
  />
</template>
