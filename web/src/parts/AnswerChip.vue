<script setup lang="ts">
/** An answer to tap; marked where it is given. */
defineProps<{ on: boolean; text: string }>()
defineEmits<{ click: [] }>()
</script>

<template>
  <button
    type="button"
    class="plain chip"
    :class="{ on }"
    :aria-pressed="on"
    @click="$emit('click')"
  >
    {{ text }}
  </button>
</template>

<style scoped>
.chip {
  padding: 4px 9px !important;
  border: 1px solid var(--hairline) !important;
  border-radius: 3px;
}

.chip.on {
  color: var(--ink) !important;
  font-weight: 600;
  border-color: var(--measured) !important;
  box-shadow: inset 0 -3px 0 var(--measured);
}
</style>
